<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Delivery\Repository\IncidentAlertRepository;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Answer\FlappingOne;
use Olivine\App\Rule\Answer\Noise;
use Olivine\App\Rule\Answer\RaisedRule;
use Olivine\App\Rule\Answer\SilentRule;
use Olivine\App\Rule\Answer\SpokenRule;
use Olivine\App\Rule\Answer\UnknownRule;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Entity\AlertMark;
use Olivine\App\Rule\Entity\Rule as StoredRule;
use Olivine\App\Rule\Repository\AlertMarkRepository;
use Olivine\App\Rule\Repository\RuleRepository;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Flapping;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Spell;
use Olivine\Core\Rule\Spells;
use Olivine\Core\Rule\Worth;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** How the rules did in the last thirty days, from what they raised and what people said of it. */
final readonly class NoiseView
{
    private const SECONDS = 10.0;
    private const DAYS = 30;
    private const OLD_ENOUGH_DAYS = 7;
    private const ALWAYS_DAYS = 3;
    private const FARTHEST_DAYS = 7;
    private const FARTHEST_STEP_MINUTES = 30;
    private const MOST_LOOKED_AT = 8;
    private const MOST_SHOWN = 12;

    public function __construct(
        private RuleRepository $rules,
        private RuleDefinitions $definitions,
        private Transitions $transitions,
        private IncidentAlertRepository $incidents,
        private AlertMarkRepository $marks,
        private Evaluator $evaluator,
        private Checker $checker,
        private HeavyWork $heavy,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem where too much is under way already */
    public function now(): Noise
    {
        $now = $this->clock->now();
        $since = $now->minus(Duration::ofDays(self::DAYS));
        $happened = $this->transitions->raisedAndEnded($since);
        $incidents = $this->incidents->openedByRule($since);
        $marks = array_filter($this->marks->findAll(), static fn(AlertMark $mark): bool => $mark->raisedAt->isAfter($since));
        $spoke = $silent = $always = $flapping = $unknown = [];
        foreach ($this->rules->byName() as $rule) {
            if (!$rule->enabled) {
                continue;
            }
            $definition = $this->definitions->of($rule->inService);
            $spells = Spells::of($happened[$rule->id()] ?? []);
            if ($spells === []) {
                if ($now->since($rule->createdAt)->isAtLeast(Duration::ofDays(self::OLD_ENOUGH_DAYS))) {
                    $silent[] = [$rule, $definition];
                }
            } else {
                $spoke[] = self::spoken($rule, $definition, $spells, $incidents[$rule->id()] ?? 0, $marks);
            }
            array_push($always, ...self::always($rule, $spells, $now));
            array_push($flapping, ...self::flapping($rule, $definition, $spells));
            if ($definition->runbook === '' || $definition->owner === '') {
                $unknown[] = new UnknownRule($rule->id(), $rule->name, $definition->owner !== '', $definition->runbook !== '');
            }
        }
        usort($spoke, static fn(SpokenRule $a, SpokenRule $b): int => [$b->incidents, $b->alerts] <=> [$a->incidents, $a->alerts]);
        usort($flapping, static fn(FlappingOne $a, FlappingOne $b): int => $b->times <=> $a->times);

        return new Noise(
            always: $always,
            comeAndGo: array_slice($flapping, 0, self::MOST_SHOWN),
            marks: count($marks),
            people: count(array_unique(array_map(static fn(AlertMark $mark): int => $mark->authorId ?? 0, $marks))),
            silent: $this->heavy->within(self::SECONDS, fn(): array => $this->silent($silent, $now)),
            since: $since,
            spoke: $spoke,
            unknown: $unknown,
        );
    }

    /**
     * @param list<Spell>      $spells
     * @param array<AlertMark> $marks
     */
    private static function spoken(StoredRule $rule, RuleDefinition $definition, array $spells, int $incidents, array $marks): SpokenRule
    {
        $own = array_filter($marks, static fn(AlertMark $mark): bool => $mark->ruleId === $rule->id());
        $useful = count(array_filter($own, static fn(AlertMark $mark): bool => $mark->worth === Worth::Useful));
        $severity = $spells[0]->severity;
        foreach ($spells as $spell) {
            $severity = $spell->severity->isWorseThan($severity) ? $spell->severity : $severity;
        }

        return new SpokenRule(
            alerts: count($spells),
            id: $rule->id(),
            incidents: $incidents,
            name: $definition->name,
            noise: count($own) - $useful,
            severity: $severity,
            useful: $useful,
        );
    }

    /**
     * @param list<Spell> $spells
     *
     * @return list<RaisedRule>
     */
    private static function always(StoredRule $rule, array $spells, Instant $now): array
    {
        $long = array_filter(
            $spells,
            static fn(Spell $spell): bool => $spell->cleared === null && $now->since($spell->raised)->isAtLeast(Duration::ofDays(self::ALWAYS_DAYS)),
        );

        return array_values(
            array_map(static fn(Spell $spell): RaisedRule => new RaisedRule($rule->id(), $spell->labels, $rule->name, $spell->raised), $long),
        );
    }

    /**
     * @param list<Spell> $spells
     *
     * @return list<FlappingOne>
     */
    private static function flapping(StoredRule $rule, RuleDefinition $definition, array $spells): array
    {
        try {
            $found = Flapping::of($spells, $definition->holding(), Duration::ofSeconds($definition->stepSeconds));
        } catch (BadRule) {
            return [];
        }

        // Of each alert the time at which it came and went most.
        $byAlert = [];
        foreach ($found as $one) {
            $byAlert[$one->labels->key()] ??= $one;
        }

        return array_map(
            static fn(Flapping $one): FlappingOne => new FlappingOne(
                clearHoldSeconds: $one->clearHold->seconds(),
                from: $one->from,
                id: $rule->id(),
                labels: $one->labels,
                name: $rule->name,
                times: $one->times,
                to: $one->to,
                wasClearHoldSeconds: $definition->clearHoldSeconds,
            ),
            array_values($byAlert),
        );
    }

    /**
     * @param list<array{StoredRule, RuleDefinition}> $rules
     *
     * @return list<SilentRule>
     */
    private function silent(array $rules, Instant $now): array
    {
        $shown = [];
        foreach ($rules as $i => [$rule, $definition]) {
            try {
                $core = $definition->core();
                $unit = $this->checker->unitOf($core->watched);
                $farthest = $i < self::MOST_LOOKED_AT ? $this->farthest($core, $now) : null;
                $limit = $core->condition instanceof Threshold ? $core->condition->limits->mildest->limit : null;
                $shown[] = new SilentRule($farthest, $rule->id(), $limit, $rule->name, $unit, $core->condition->words($unit));
            } catch (FormulaError|BadRule|TooMuchToRead $error) {
                // It is broken, and told as such where rules are listed.
                $shown[] = new SilentRule(null, $rule->id(), null, $rule->name, '', $error->getMessage());
            }
        }

        return $shown;
    }

    /**
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    private function farthest(Rule $rule, Instant $now): ?float
    {
        $condition = $rule->condition;
        if (!$condition instanceof Threshold || $condition->limits->side->isRange()) {
            return null;
        }
        $step = Duration::ofMinutes(self::FARTHEST_STEP_MINUTES);
        $through = $now->onStep($step);
        $values = [];
        foreach ($this->evaluator->range($rule->watched, $through->minus(Duration::ofDays(self::FARTHEST_DAYS))->ms, $through->ms, $step->ms)->lines as $line) {
            array_push($values, ...array_filter($line->values, static fn(?float $value): bool => $value !== null && is_finite($value)));
        }

        return match (true) {
            $values === [] => null,
            $condition->limits->side === Side::Above => (float) max($values),
            default => (float) min($values),
        };
    }
}
