<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Spread;

/**
 * The usual range of each series of a formula: from the same hours of past weeks, half an hour to either side, all but
 * the lowest and the highest fiftieth, widened by a tenth to either side.
 */
final readonly class UsualBand
{
    private const WEEK_MS = 604_800_000;
    private const WEEKS = 4;
    private const AROUND_MS = 1_800_000;
    private const LEAST_VALUES = 5;
    private const LOW = 0.02;
    private const ROOM = 0.1;

    public function __construct(private Evaluator $evaluator)
    {
    }

    /** @return array<string, array{low: list<float|null>, middle: list<float|null>, high: list<float|null>, weeks: int}> by the key of the labels */
    public function of(Node $formula, int $firstMs, int $toMs, int $stepMs): array
    {
        $around = min(20, intdiv(self::AROUND_MS, $stepMs));
        $past = [];
        $weeks = [];
        for ($week = 1; $week <= self::WEEKS; ++$week) {
            $from = $firstMs - $week * self::WEEK_MS - $around * $stepMs;
            foreach ($this->evaluator->range($formula, $from, $toMs - $week * self::WEEK_MS + $around * $stepMs, $stepMs)->lines as $line) {
                $key = $line->labels->key();
                $weeks[$key] = ($weeks[$key] ?? 0) + 1;
                foreach ($line->values as $i => $value) {
                    if ($value !== null && is_finite($value)) {
                        $past[$key][$i][] = $value;
                    }
                }
            }
        }
        $bands = [];
        $count = intdiv($toMs - $firstMs, $stepMs) + 1;
        foreach ($past as $key => $byInstant) {
            $band = ['low' => [], 'middle' => [], 'high' => [], 'weeks' => $weeks[$key]];
            for ($i = 0; $i < $count; ++$i) {
                $values = [];
                for ($n = $i; $n <= $i + 2 * $around; ++$n) {
                    array_push($values, ...($byInstant[$n] ?? []));
                }
                $enough = $values !== [] && count($values) >= min(self::LEAST_VALUES, 1 + 2 * $around);
                $low = $enough ? Spread::quantile(self::LOW, $values) : null;
                $high = $enough ? Spread::quantile(1 - self::LOW, $values) : null;
                $room = $low === null || $high === null ? 0.0 : self::ROOM * ($high - $low);
                $band['low'][] = $low === null ? null : $low - $room;
                $band['middle'][] = $enough ? Spread::median($values) : null;
                $band['high'][] = $high === null ? null : $high + $room;
            }
            $bands[$key] = $band;
        }

        return $bands;
    }
}
