<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

/**
 * Readings of one series over a span, oldest first. A null value is no reading: it marks that the series
 * was missing from a scrape that succeeded, so it ended there until the next reading.
 */
final readonly class Window
{
    /** A reading speaks for as many intervals at which its series is read. */
    public const STALE_INTERVALS = 3;

    /**
     * @param list<int>        $times   milliseconds UTC, rising
     * @param list<float|null> $values  one for each time
     * @param int              $staleMs a reading older than this no longer speaks for the present
     * @param int              $bornMs  when the series was seen first, as far as anybody knows
     * @param bool             $isWhole whether each value is known to be a number
     */
    public function __construct(
        public LabelSet $labels,
        public array $times,
        public array $values,
        public int $staleMs,
        public int $bornMs = 0,
        public bool $isWhole = false,
    ) {
    }
    /** @return self|null the part in `(afterMs, throughMs]`; null where nothing was read in it */
    public function within(int $afterMs, int $throughMs): ?self
    {
        $low = self::firstAfter($this->times, $afterMs);
        $count = self::firstAfter($this->times, $throughMs) - $low;

        return match (true) {
            $count <= 0 => null,
            $count === count($this->times) => $this,
            default => new self(
                $this->labels,
                array_slice($this->times, $low, $count),
                array_slice($this->values, $low, $count),
                $this->staleMs,
                $this->bornMs,
                $this->isWhole,
            ),
        };
    }

    /**
     * @param list<int> $times rising
     *
     * @return int the place of the first after a bound
     */
    public static function firstAfter(array $times, int $bound): int
    {
        $low = 0;
        $high = count($times);
        while ($low < $high) {
            $middle = ($low + $high) >> 1;
            if ($times[$middle] <= $bound) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }

        return $low;
    }
}
