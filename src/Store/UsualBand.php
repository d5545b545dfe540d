<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Spread;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Formula\WallClock;
use Olivine\Core\Series\LabelSet;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

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

    /** @param \Closure(): \DateTimeZone $zone whose hours are meant */
    public function __construct(private Evaluator $evaluator, #[Autowire(service: 'olivine.zone')] private \Closure $zone)
    {
    }

    /**
     * @param LabelSet|null $only of one of its series; null: of all
     *
     * @return array<string, array{low: list<float|null>, middle: list<float|null>, high: list<float|null>, weeks: int}> by the key of the labels
     *
     * @throws FormulaError  where the formula cannot be read or worked out
     * @throws TooMuchToRead where it would take more than may be read at once
     */
    public function of(Node $formula, int $firstMs, int $toMs, int $stepMs, ?LabelSet $only = null): array
    {
        $around = min(20, intdiv(self::AROUND_MS, $stepMs));
        $past = [];
        $weeks = [];
        for ($week = 1; $week <= self::WEEKS; ++$week) {
            $seen = [];
            foreach ($this->spansBefore($week * self::WEEK_MS, $firstMs, $toMs, $stepMs) as $i => [$from, $to]) {
                foreach ($this->lines($formula, $from - $around * $stepMs, $to + $around * $stepMs, $stepMs, $only) as $line) {
                    $key = $line->labels->key();
                    $seen[$key] = true;
                    $past[$key][] = [$i, intdiv($to - $from, $stepMs), $line->values];
                }
            }
            foreach (array_keys($seen) as $key) {
                $weeks[$key] = ($weeks[$key] ?? 0) + 1;
            }
        }
        $bands = [];
        $count = intdiv($toMs - $firstMs, $stepMs) + 1;
        foreach ($past as $key => $spans) {
            $band = ['low' => [], 'middle' => [], 'high' => [], 'weeks' => $weeks[$key]];
            for ($i = 0; $i < $count; ++$i) {
                $values = self::near($spans, $i, $around);
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

    /**
     * @return list<Line>
     *
     * @throws FormulaError
     * @throws TooMuchToRead
     */
    private function lines(Node $formula, int $fromMs, int $toMs, int $stepMs, ?LabelSet $only): array
    {
        if ($only === null) {
            return array_values($this->evaluator->range($formula, $fromMs, $toMs, $stepMs)->lines);
        }
        $line = $this->evaluator->line($formula, $only, $fromMs, $toMs, $stepMs);

        return $line === null ? [] : [$line];
    }

    /**
     * The same time of day on a day so long before: where clocks changed in between, by what clocks showed. A span in
     * which they change is cut there.
     *
     * @return array<int, array{int, int}> place of the first instant → first and last instant of the past
     */
    private function spansBefore(int $backMs, int $firstMs, int $toMs, int $stepMs): array
    {
        $instants = range($firstMs, max($firstMs, $toMs - (($toMs - $firstMs) % $stepMs)), $stepMs);
        $clock = new WallClock(($this->zone)());
        $shown = $clock->shown($instants);
        $past = $clock->shown(array_map(static fn(int $at): int => $at - $backMs, $instants));
        $spans = [];
        $start = 0;
        $lastShift = null;
        foreach ($instants as $i => $at) {
            $shift = $backMs - ($shown[$i] - $past[$i] - $backMs);
            if ($shift !== $lastShift) {
                [$start, $lastShift] = [$i, $shift];
            }
            $spans[$start] = [$instants[$start] - $shift, $at - $shift];
        }

        return $spans;
    }

    /**
     * @param list<array{int, int, list<float|null>}> $spans place of the first instant, how many steps it lasts, values with those around
     *
     * @return list<float> what was there around one instant
     */
    private static function near(array $spans, int $place, int $around): array
    {
        $values = [];
        foreach ($spans as [$first, $steps, $column]) {
            if ($place < $first || $place > $first + $steps) {
                continue;
            }
            foreach (array_slice($column, $place - $first, 2 * $around + 1) as $value) {
                if ($value !== null && is_finite($value)) {
                    $values[] = $value;
                }
            }
        }

        return $values;
    }
}
