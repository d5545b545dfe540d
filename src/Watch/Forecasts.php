<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\Query;
use Olivine\App\Delivery\RaisingRules;
use Olivine\App\Platform\SlowAnswer;
use Olivine\App\Rule\Entity\Rule;
use Olivine\App\Watch\Answer\Forecast;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Trend;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * When a slowly filling thing would reach its limit if it went on as in the last six hours of a rule's formula.
 */
final readonly class Forecasts implements SlowAnswer
{
    public const NAME = 'forecasts';
    private const BACK_MS = 21_600_000;
    private const STEP_MS = 900_000;
    private const RENEW_EVERY_MS = 60_000;

    public function __construct(
        private EntityManagerInterface $entities,
        private Evaluator $evaluator,
        private RaisingRules $rules,
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
            $condition = $by?->condition;
            if ($by === null || !$condition instanceof Threshold || $condition->limits->side->isRange()) {
                continue;
            }
            $limits = $condition->limits;
            try {
                $tree = Parser::parse($by->rule->formula);
                $lines = $this->evaluator->range($tree, $now->ms - self::BACK_MS, $now->ms, self::STEP_MS)->lines;
            } catch (FormulaError|TooMuchToRead) {
                continue;
            }
            foreach ($lines as $line) {
                $at = Trend::crossing($line->values, Duration::ofMs(self::STEP_MS), $now, $limits->mildest->limit, $limits->side);
                if ($at !== null) {
                    $found[] = new Forecast(
                        at: $at,
                        ruleId: $rule->id(),
                        service: $by->rule->service !== '' ? $by->rule->service : $line->labels->get('service'),
                        severity: $limits->mildest->severity,
                        words: "{$by->name($line->labels)} would reach {$by->value($limits->mildest->limit)}",
                    );
                }
            }
        }
        usort($found, static fn(Forecast $a, Forecast $b): int => $a->at <=> $b->at);

        return array_slice($found, 0, 20);
    }
}
