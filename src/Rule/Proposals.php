<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeavyWork;
use Olivine\App\Platform\Problem;
use Olivine\App\Rule\Answer\Proposal as ShownProposal;
use Olivine\App\Rule\Answer\TriedSettings;
use Olivine\App\Rule\Definition\FieldsOf;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Entity\Rule as StoredRule;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Judged;
use Olivine\Core\Rule\Limited;
use Olivine\Core\Rule\Mark;
use Olivine\Core\Rule\Proposal;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Spells;
use Olivine\Core\Rule\Sweep;
use Olivine\Core\Rule\Tried;
use Olivine\Core\Series\Quantity;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** Tries the settings of a rule against what people said of its alerts. */
final readonly class Proposals
{
    private const SECONDS = 20.0;
    private const LIMITS = 30;
    private const HOLDS = 6;

    public function __construct(
        private Evaluator $evaluator,
        private Checker $checker,
        private RuleEngine $engine,
        private SettledReadings $settled,
        private SettingValues $worthTrying,
        private RuleMarks $marks,
        private HeavyWork $heavy,
        private Clock $clock = new Clock(),
    ) {
    }

    /**
     * @param int $hours back from as far as live rules could look by now
     *
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     * @throws BadRule       naming the field that cannot be so
     * @throws Problem       429 where too much is under way already
     */
    public function of(StoredRule $stored, RuleDefinition $definition, int $hours): ShownProposal
    {
        $rule = $definition->core();
        $settled = $this->settled->at($this->clock->now()->ms);
        $through = Instant::ofMs($this->settled->throughFor($rule->watched, $settled))->onStep($rule->step);
        $after = $through->minus(Duration::ofHours($hours));
        $marks = $this->marks->within($stored->id(), $after, $through);
        $this->evaluator->refuseLongWork($rule->watched, $after->ms, $through->ms, $rule->step->ms);
        $began = hrtime(true);
        $tried = $this->heavy->within(self::SECONDS, fn(): array => $this->tried($rule, $marks, $after, $through));
        $now = array_shift($tried);
        $proposal = $marks === [] ? null : Proposal::of($now, array_values($tried), count($marks));
        $best = $proposal === null ? null : self::settled($definition, $rule, $proposal->best);

        return new ShownProposal(
            best: $proposal === null ? null : TriedSettings::of($proposal->best),
            definition: $best,
            marks: count($marks),
            now: TriedSettings::of($now),
            tookMs: round((hrtime(true) - $began) / 1e6, 1),
            words: $proposal === null ? self::noWords($marks) : $this->words($proposal, $rule),
        );
    }

    /**
     * @param list<Mark> $marks
     *
     * @return non-empty-list<Tried> first as it is, then the limits of one hold after the other
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function tried(Rule $rule, array $marks, Instant $after, Instant $through): array
    {
        $rules = [$rule];
        $settings = [[self::limitOf($rule->condition), $rule->holding->hold]];
        $limits = $marks === [] ? [] : $this->worthTrying->strictLimits($rule, self::LIMITS, $after, $through);
        $holds = $marks === [] ? [] : [(float) $rule->holding->hold->seconds(), ...SettingValues::holds($rule, self::HOLDS)];
        foreach (array_unique($holds) as $hold) {
            $held = Sweep::Hold->with($rule, $hold);
            $steps = $limits === [] ? [null] : $limits;
            foreach ($held === null ? [] : $steps as $limit) {
                $with = $limit === null || $held === null ? $held : Sweep::Limit->with($held, $limit);
                if ($with !== null) {
                    $rules[] = $with;
                    $settings[] = [$limit, Duration::ofSeconds((int) $hold)];
                }
            }
        }

        $tried = [];
        foreach ($this->engine->sweep($rules, $after, $through) as $i => $outcome) {
            $spells = Spells::of($outcome->transitions);
            $tried[] = new Tried($settings[$i][0], $settings[$i][1], Judged::of($spells, $marks), count($spells));
        }
        $tried !== [] || throw new \LogicException('The rule itself is tried in any case');

        return $tried;
    }

    /** @throws BadRule */
    private static function settled(RuleDefinition $definition, Rule $rule, Tried $best): RuleDefinition
    {
        $condition = $best->limit === null ? $rule->condition : $rule->condition->moved($best->limit);

        return $definition->raising(FieldsOf::condition($condition), $best->hold->seconds());
    }

    private static function limitOf(Condition $condition): ?float
    {
        return $condition instanceof Limited ? $condition->limits()->mildest->limit : null;
    }

    /** @param list<Mark> $marks */
    private static function noWords(array $marks): string
    {
        return $marks === []
            ? 'Nobody has said of an alert in this span whether it was useful or noise.'
            : 'Nothing that was tried keeps the useful alerts with fewer others than this.';
    }

    /** `From above 0.2/s for 5 min to above 0.45/s for 5 min: 9 alerts become 2. Every useful one stays, one told 40 s later.` */
    private function words(Proposal $proposal, Rule $rule): string
    {
        [$now, $best] = [$proposal->now, $proposal->best];
        $kept = match (true) {
            $best->judged->lost > 0 => "{$best->judged->useful} of the useful ones stay, {$best->judged->lost} are lost",
            $best->judged->useful === 0 => 'none of them was marked useful',
            $best->judged->useful === 1 => 'the useful one stays',
            default => "all {$best->judged->useful} useful ones stay",
        };
        $later = $best->judged->later->ms > 0 ? ", told up to {$best->judged->later->words()} later" : '';
        $alerts = $now->alerts === 1 ? '1 alert becomes' : "{$now->alerts} alerts become";

        return ucfirst("{$this->setting($rule, $best)}: {$alerts} {$best->alerts}; {$kept}{$later}; {$proposal->sureness()}.");
    }

    private function setting(Rule $rule, Tried $tried): string
    {
        $hold = $tried->hold->isNone() ? 'at once' : "for {$tried->hold->words()}";
        if ($tried->limit === null) {
            return $hold;
        }
        try {
            $unit = $rule->condition->lines() === [] ? '' : $this->checker->unitOf($rule->watched);
        } catch (FormulaError) {
            $unit = '';
        }

        return 'a limit of ' . Quantity::words($tried->limit, $unit) . ", {$hold}";
    }
}
