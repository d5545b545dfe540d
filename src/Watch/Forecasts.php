<?php

declare(strict_types=1);

namespace Olivine\App\Watch;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Delivery\IncidentSentence;
use Olivine\App\Rule\Entity\Rule;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\Direction;
use Olivine\Core\Series\Quantity;
use Symfony\Contracts\Cache\CacheInterface;
use Symfony\Contracts\Cache\ItemInterface;

/**
 * When a slowly filling thing would reach its limit if it went on as it did: a straight line by least squares
 * through the last six hours of a rule's formula, kept for a minute. Only lines that fit well (r² ≥ 0.8) are told.
 */
final readonly class Forecasts
{
    private const BACK_MS = 21_600_000;
    private const STEP_MS = 900_000;
    private const LEAST_FIT = 0.8;
    private const KEPT_SECONDS = 60;

    public function __construct(private EntityManagerInterface $entities, private Evaluator $evaluator, private Checker $checker, private CacheInterface $cache)
    {
    }

    /** @return list<array{at: int, ruleId: int, service: string, severity: string, words: string}> */
    public function between(int $nowMs, int $toMs): array
    {
        $kept = $this->cache->get('forecasts', function (ItemInterface $item) use ($nowMs): array {
            $item->expiresAfter(self::KEPT_SECONDS);

            return $this->work($nowMs);
        });

        return array_values(array_filter($kept, static fn(array $one): bool => $one['at'] > $nowMs && $one['at'] <= $toMs));
    }

    /** @return list<array{at: int, ruleId: int, service: string, severity: string, words: string}> */
    private function work(int $nowMs): array
    {
        $found = [];
        foreach ($this->entities->getRepository(Rule::class)->findBy(['enabled' => true]) as $rule) {
            try {
                $tree = Parser::parse($rule->formula);
                $unit = $this->checker->unitOf($tree);
                $lines = $this->evaluator->range($tree, $nowMs - self::BACK_MS, $nowMs, self::STEP_MS)->lines;
            } catch (FormulaError) {
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
