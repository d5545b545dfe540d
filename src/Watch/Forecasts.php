<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\Query;
use Olivine\App\Delivery\RaisedBy;
use Olivine\App\Delivery\RaisingRules;
use Olivine\App\Platform\Settings;
use Olivine\App\Platform\SlowAnswer;
use Olivine\App\Rule\AlertStates;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Watch\Answer\Forecast;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Foresight;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\TrackedAlert;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/**
 * When what rules look at would reach its limit if it went on as it did, foreseen as rules that look ahead foresee it: silent where
 * such a forecast was usually off by more than the limit is away.
 */
final readonly class Forecasts implements SlowAnswer
{
    public const NAME = 'forecasts';
    private const BACK_MS = 4 * 86_400_000;
    private const STEP_MS = 3_600_000;
    private const FARTHEST_MS = 2 * 86_400_000;
    private const RENEW_EVERY_MS = 300_000;

    public function __construct(
        private EntityManagerInterface $entities,
        private Evaluator $evaluator,
        private RaisingRules $rules,
        private AlertStates $states,
        private Settings $settings,
    ) {
    }

    public function name(): string
    {
        return self::NAME;
    }

    public function renewEveryMs(): int
    {
        return self::RENEW_EVERY_MS;
    }

    /** @return list<Forecast> */
    public function work(Instant $now): array
    {
        $found = [];
        // The keeper lives long, and rules change while it does.
        $rules = $this->entities
            ->createQueryBuilder()
            ->select('r')
            ->from(Rule::class, 'r')
            ->where('r.enabled = true')
            ->getQuery()
            ->setHint(Query::HINT_REFRESH, true);
        /** @var list<Rule> $enabled */
        $enabled = $rules->getResult();
        foreach ($enabled as $rule) {
            $by = $this->rules->inService($rule);
            if ($by !== null) {
                array_push($found, ...$this->ofRule($rule, $by, $now));
            }
        }
        usort($found, static fn(Forecast $a, Forecast $b): int => $a->at <=> $b->at);

        return array_slice($found, 0, 20);
    }

    /** @return list<Forecast> */
    private function ofRule(Rule $rule, RaisedBy $by, Instant $now): array
    {
        if (!$by->conditionOf(LabelSet::none()) instanceof Threshold) {
            return [];
        }
        // On its grid, so that what it looks at can be told from roll-ups.
        $toMs = $now->ms - ($now->ms % self::STEP_MS);
        try {
            $tree = Parser::parse($by->rule->formula);
            $lines = $this->evaluator->range($tree, $toMs - self::BACK_MS, $toMs, self::STEP_MS)->lines;
        } catch (FormulaError|TooMuchToRead) {
            return [];
        }
        $found = [];
        $raised = array_filter($this->states->load($rule->id()), static fn(TrackedAlert $alert): bool => $alert->state->phase->isRaised());
        foreach ($lines as $line) {
            // What is raised already need not be foreseen.
            if (isset($raised[$line->labels->key()])) {
                continue;
            }
            $condition = $by->conditionOf($line->labels);
            $limits = $condition instanceof Threshold ? $condition->limits : null;
            $atMs = $limits === null || $limits->side->isRange() ? null : $this->reaches($line, $limits, $toMs);
            if ($limits !== null && $atMs !== null && $atMs > $now->ms) {
                $found[] = new Forecast(
                    at: Instant::ofMs($atMs),
                    ruleId: $rule->id(),
                    service: $by->rule->service !== '' ? $by->rule->service : $line->labels->get('service'),
                    severity: $limits->mildest->severity,
                    words: "{$by->name($line->labels)} would reach {$by->value($limits->mildest->limit)}",
                );
            }
        }

        return $found;
    }

    private function reaches(Line $line, Limits $limits, int $toMs): ?int
    {
        $times = $values = [];
        foreach ($line->values as $i => $value) {
            if ($value !== null && is_finite($value)) {
                $times[] = $toMs - (count($line->values) - 1 - $i) * self::STEP_MS;
                $values[] = $value;
            }
        }
        // Where little is known, no further ahead than four times as much.
        $knownMs = $times === [] ? 0 : end($times) - $times[0];
        $isAbove = $limits->side === Side::Above;

        return (new Foresight($this->settings->zone()))->reaches(
            $times,
            $values,
            $toMs,
            min(self::FARTHEST_MS, 4 * $knownMs),
            $limits->mildest->limit,
            $isAbove,
        );
    }
}
