<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Series\Window;

/**
 * Between which readings a counter grows over a window that slides from instant to instant. The counters of one scrape are read
 * at the same times, so what is found for the first of them holds for all: a histogram has a dozen, a web server hundreds.
 *
 * Growth, by example: readings 10 (at 0 s), 14 (15 s), 3 (30 s, it restarted), 5 (45 s). Growth over (0 s, 45 s]: the window starts
 * with the 10 at its edge, then +4, +3 (from 0), +2 = 9. Its rate: 9 over the 45 s between the first and the last of those = 0.2 a second.
 *
 * Places, by example: readings at 0, 15, 30 and 45 s, stale after 45 s, and a window of 30 s at 45 s: it grows from the reading at 15 s,
 * the last at or before the window's start, to the one at 45 s, so from place 1 to place 3.
 */
final readonly class CounterPlaces
{
    /**
     * @param list<int>      $times
     * @param list<int>      $instants
     * @param int            $youngMs  when the series was seen first, 0 where that was before all of it
     * @param list<int|null> $from     the reading that it grows from, one an instant; null where nothing is told
     * @param list<int>      $to       the last reading inside
     */
    private function __construct(
        private array $times,
        private array $instants,
        private int $windowMs,
        private int $staleMs,
        private int $youngMs,
        private float $mustSee,
        public array $from,
        public array $to,
    ) {
    }

    /**
     * @param list<int>           $times    rising
     * @param non-empty-list<int> $instants rising
     * @param float               $mustSee  the share of the window that must have been seen, 0 to 1
     */
    public static function of(array $times, Window $window, int $windowMs, array $instants, float $mustSee): self
    {
        $seen = $mustSee > 0.0 ? Seen::of($window->staleMs, $window->bornMs) : null;
        // Of a window all through which there could have been readings so much must be spanned, whichever one it is.
        $spanMs = $mustSee * $windowMs - $window->staleMs / Window::STALE_INTERVALS;
        $from = [];
        $to = [];
        $low = 0;
        $high = 0;
        $count = count($times);
        foreach ($instants as $at) {
            while ($high < $count && $times[$high] <= $at) {
                ++$high;
            }
            $start = $at - $windowMs;
            while ($low < $high && $times[$low] <= $start) {
                ++$low;
            }
            $to[] = $high - 1;
            // From the last reading before the window, unless that is stale.
            $base = $low > 0 && $times[$low - 1] >= $start - $window->staleMs ? $low - 1 : $low;
            $isTold = match (true) {
                $low >= $high => false,
                $seen === null => true,
                $seen->isBornBefore($start) => $times[$high - 1] - max($start, $times[$base]) >= $spanMs,
                default => $seen->isSpanEnough(max($start, $times[$base]), $times[$high - 1], $start, $at, $mustSee),
            };
            $from[] = $isTold ? $base : null;
        }

        return new self($times, $instants, $windowMs, $window->staleMs, self::young($window, $instants[0] - $windowMs), $mustSee, $from, $to);
    }

    /**
     * The same for another counter where it was read at the same times, else its own.
     *
     * @param list<int>           $times    rising
     * @param non-empty-list<int> $instants rising
     */
    public static function again(?self $before, array $times, Window $window, int $windowMs, array $instants, float $mustSee): self
    {
        $isSame = $before !== null
            && $before->staleMs === $window->staleMs
            && $before->youngMs === self::young($window, $instants[0] - $windowMs)
            && $before->windowMs === $windowMs
            && $before->mustSee === $mustSee
            && $before->times === $times
            && $before->instants === $instants;

        return $isSame ? $before : self::of($times, $window, $windowMs, $instants, $mustSee);
    }

    private static function young(Window $window, int $startMs): int
    {
        return $window->bornMs - $window->staleMs / Window::STALE_INTERVALS <= $startMs ? 0 : $window->bornMs;
    }

    /**
     * @param list<float> $values one a time of the counter
     *
     * @return list<float|null> growth, or for a rate growth a second
     */
    public function growth(array $values, bool $isRate): array
    {
        $steps = self::steps($values);
        $sums = self::sums($steps);
        $told = [];
        foreach ($this->from as $i => $base) {
            $last = $this->to[$i];
            if ($base === null || $base === $last) {
                $told[] = $base === null || $isRate ? null : 0.0;

                continue;
            }
            $grown = $sums === null ? (float) array_sum(array_slice($steps, $base + 1, $last - $base)) : $sums[$last] - $sums[$base];
            $told[] = $isRate ? $grown / (($this->times[$last] - $this->times[$base]) / 1000) : $grown;
        }

        return $told;
    }

    /**
     * @param list<float> $values
     *
     * @return list<float> growth from each reading's predecessor; a fall is a restart from 0
     */
    private static function steps(array $values): array
    {
        $steps = [];
        $previous = $values[0] ?? 0.0;
        foreach ($values as $value) {
            $steps[] = $value < $previous ? $value : $value - $previous;
            $previous = $value;
        }

        return $steps;
    }

    /**
     * What a counter of whole things grew by since its first reading. Whole numbers add up to the same in whatever order, so that
     * the difference of two such sums is exactly what lies between them, wherever a range begins.
     *
     * @param list<float> $steps
     *
     * @return list<float>|null null where it counts parts of things, or more than can be told exactly
     */
    private static function sums(array $steps): ?array
    {
        $sum = 0.0;
        $sums = [];
        foreach ($steps as $step) {
            if ($step < 0.0 || (float) (int) $step !== $step) {
                return null;
            }
            $sums[] = $sum += $step;
        }

        return $sum < 2 ** 53 ? $sums : null;
    }
}
