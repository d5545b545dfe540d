<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Doctrine\ORM\EntityManagerInterface;
use Doctrine\ORM\Query;
use Olivine\App\Delivery\IncidentSentence;
use Olivine\App\Platform\SlowAnswer;
use Olivine\App\Rule\Entity\Rule;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\Direction;
use Olivine\Core\Series\Quantity;

/**
 * When a slowly filling thing would reach its limit if it went on as it did: a straight line by least squares
 * through the last six hours of a rule's formula. Only lines that fit well (r² ≥ 0.8) are told.
 */
final readonly class Forecasts implements SlowAnswer
{
    public const NAME = 'forecasts';
    private const BACK_MS = 21_600_000;
    private const STEP_MS = 900_000;
    private const LEAST_FIT = 0.8;
    private const RENEW_EVERY_MS = 60_000;

    public function __construct(private EntityManagerInterface $entities, private Evaluator $evaluator, private Checker $checker)
    {
    }

    public function name(): string
    {
        return self::NAME;
    }

    public function renewEveryMs(): int
    {
        return self::RENEW_EVERY_MS;
    }

    /** @return list<array{at: int, ruleId: int, service: string, severity: string, words: string}> */
    public function work(int $nowMs): array
    {
        $found = [];
        // The keeper lives long, and rules change while it does.
        $rules = $this->entities->createQueryBuilder()->select('r')->from(Rule::class, 'r')->where('r.enabled = true')->getQuery()->setHint(Query::HINT_REFRESH, true);
        foreach ($rules->getResult() as $rule) {
            try {
                $tree = Parser::parse($rule->formula);
                $unit = $this->checker->unitOf($tree);
                $lines = $this->evaluator->range($tree, $nowMs - self::BACK_MS, $nowMs, self::STEP_MS)->lines;
            } catch (FormulaError|TooMuchToRead) {
                continue;
            }
            foreach ($lines as $line) {
                $at = self::crossing($line->values, $rule->limit, $rule->direction, $nowMs);
                if ($at !== null) {
                    $found[] = [
                        'at' => $at,
                        'ruleId' => $rule->id(),
                        'service' => $rule->service !== '' ? $rule->service : $line->labels->get('service'),
                        'severity' => $rule->severity->value,
                        'words' => $rule->name . IncidentSentence::where($line->labels) . ' would reach ' . Quantity::words($rule->limit, $unit),
                    ];
                }
            }
        }
        usort($found, static fn(array $a, array $b): int => $a['at'] <=> $b['at']);

        return array_slice($found, 0, 20);
    }

    /** @param list<float|null> $values one a step, the newest last */
    private static function crossing(array $values, float $limit, Direction $direction, int $nowMs): ?int
    {
        $points = [];
        $last = count($values) - 1;
        foreach ($values as $i => $value) {
            if ($value !== null && is_finite($value)) {
                $points[] = [($i - $last) * self::STEP_MS / 1000, $value];
            }
        }
        $n = count($points);
        if ($n < 12) {
            return null;
        }
        $meanX = array_sum(array_column($points, 0)) / $n;
        $meanY = array_sum(array_column($points, 1)) / $n;
        $xx = $xy = $yy = 0.0;
        foreach ($points as [$x, $y]) {
            $xx += ($x - $meanX) ** 2;
            $xy += ($x - $meanX) * ($y - $meanY);
            $yy += ($y - $meanY) ** 2;
        }
        if ($xx <= 0 || $yy <= 0 || $xy ** 2 / ($xx * $yy) < self::LEAST_FIT) {
            return null;
        }
        $slope = $xy / $xx;
        $level = $meanY - $slope * $meanX;
        if ($direction->isPast($level, $limit) || ($direction === Direction::Above ? $slope <= 0 : $slope >= 0)) {
            return null;
        }

        return $nowMs + (int) (($limit - $level) / $slope * 1000);
    }
}
