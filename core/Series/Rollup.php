<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

/**
 * The readings of one series told bucket by bucket: how many, the first and last with their times, the lowest,
 * the highest, their sum and, of a counter, how much it grew inside. Buckets are half open like windows: `(start, end]`.
 *
 * By example, five-minute buckets from 12:00, a counter read 10 at 12:01, 14 at 12:03, 3 at 12:06 (it restarted):
 * bucket 0 has 2 readings, first 10, last 14, growth 4; bucket 1 has 1 reading, first and last 3, growth 0.
 */
final readonly class Rollup
{
    /**
     * @param list<int>        $counts   0 where the bucket holds nothing; the other columns hold 0 there
     * @param list<float>      $firsts
     * @param list<float>      $lasts
     * @param list<float>      $lows
     * @param list<float>      $highs
     * @param list<float>      $sums
     * @param list<float>|null $growths  null where the series is no counter
     * @param list<int>        $firstAts milliseconds since the start of the first bucket
     * @param list<int>        $lastAts
     */
    public function __construct(
        public array $counts,
        public array $firsts,
        public array $lasts,
        public array $lows,
        public array $highs,
        public array $sums,
        public ?array $growths,
        public array $firstAts,
        public array $lastAts,
    ) {
    }

    /**
     * @param list<int>        $times  rising, all inside `(fromMs, fromMs + buckets × bucketMs]`
     * @param list<float|null> $values null and NaN do not count
     */
    public static function of(array $times, array $values, int $fromMs, int $bucketMs, int $buckets, bool $counter): self
    {
        $counts = $firstAts = $lastAts = array_fill(0, $buckets, 0);
        $firsts = $lasts = $lows = $highs = $sums = $growths = array_fill(0, $buckets, 0.0);
        // Every reading comes through here once for each tier: what is of the bucket at hand stays out of the lists until it is full.
        $bucket = -1;
        $end = PHP_INT_MIN;
        $count = $lastAt = 0;
        $last = $low = $high = $sum = $growth = 0.0;
        foreach ($values as $i => $value) {
            if ($value === null || \is_nan($value)) {
                continue;
            }
            $since = $times[$i] - $fromMs;
            if ($since > $end) {
                if ($bucket >= 0) {
                    [
                        $counts[$bucket],
                        $lasts[$bucket],
                        $lows[$bucket],
                        $highs[$bucket],
                        $sums[$bucket],
                        $growths[$bucket],
                        $lastAts[$bucket],
                    ] = [$count, $last, $low, $high, $sum, $growth, $lastAt];
                }
                $bucket = intdiv($since - 1, $bucketMs);
                $end = ($bucket + 1) * $bucketMs;
                $count = 0;
                $sum = $growth = 0.0;
                $firsts[$bucket] = $low = $high = $value;
                $firstAts[$bucket] = $since;
            } elseif ($value < $last) {
                // A counter below its predecessor has restarted from 0.
                $growth += $value;
                if ($value < $low) {
                    $low = $value;
                }
            } else {
                $growth += $value - $last;
                if ($value > $high) {
                    $high = $value;
                }
            }
            ++$count;
            $sum += $value;
            $last = $value;
            $lastAt = $since;
        }
        if ($bucket >= 0) {
            [
                $counts[$bucket],
                $lasts[$bucket],
                $lows[$bucket],
                $highs[$bucket],
                $sums[$bucket],
                $growths[$bucket],
                $lastAts[$bucket],
            ] = [$count, $last, $low, $high, $sum, $growth, $lastAt];
        }

        return new self(
            array_values($counts),
            array_values($firsts),
            array_values($lasts),
            array_values($lows),
            array_values($highs),
            array_values($sums),
            $counter ? array_values($growths) : null,
            array_values($firstAts),
            array_values($lastAts),
        );
    }

    /** A counter below its predecessor has restarted from 0. */
    public static function growth(float $from, float $to): float
    {
        return $to < $from ? $to : $to - $from;
    }

    /** These buckets in place of our own from one on. */
    public function with(int $at, self $part, int $bucketMs): self
    {
        $shift = static fn(int $since): int => $since + $at * $bucketMs;

        return new self(
            self::lay($this->counts, $at, $part->counts),
            self::lay($this->firsts, $at, $part->firsts),
            self::lay($this->lasts, $at, $part->lasts),
            self::lay($this->lows, $at, $part->lows),
            self::lay($this->highs, $at, $part->highs),
            self::lay($this->sums, $at, $part->sums),
            $this->growths === null || $part->growths === null ? null : self::lay($this->growths, $at, $part->growths),
            self::lay($this->firstAts, $at, array_map($shift, $part->firstAts)),
            self::lay($this->lastAts, $at, array_map($shift, $part->lastAts)),
        );
    }

    /**
     * @template T
     *
     * @param list<T> $own
     * @param list<T> $new
     *
     * @return list<T>
     */
    private static function lay(array $own, int $at, array $new): array
    {
        array_splice($own, $at, count($new), $new);

        return array_values($own);
    }

    public static function none(int $buckets, bool $counter): self
    {
        return self::of([], [], 0, 1, $buckets, $counter);
    }
}
