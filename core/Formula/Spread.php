<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/**
 * Where the middle of some values is and how far they spread.
 *
 * By example, of 1, 2, 4, 10: median 3; distances from it 2, 1, 1, 7, so the MAD is 1.5; mean 4.25;
 * the quarter quantile lies a fourth of the way along the three gaps: 1 + 0.75 × (2 − 1) = 1.75
 * (Hyndman & Fan 1996, type 7).
 */
final class Spread
{
    /** MAD to standard deviation, for normally distributed values. */
    public const MAD_SCALE = 1.4826;

    /** @param non-empty-list<float> $values in any order, no NaN */
    public static function quantile(float $share, array $values): float
    {
        sort($values);
        $place = $share * (count($values) - 1);
        $low = (int) floor($place);
        $high = min($low + 1, count($values) - 1);
        $part = $place - $low;

        return $part === 0.0 || $values[$low] === $values[$high]
            ? $values[$low]
            : $values[$low] + $part * ($values[$high] - $values[$low]);
    }

    /** @param non-empty-list<float> $values */
    public static function median(array $values): float
    {
        sort($values);

        return self::middle($values);
    }

    /**
     * The median and the plain median absolute deviation of values that are sorted already: of 1, 2, 4, 10 the median is 3, and from
     * there outwards the distances are 1, 1, 2, 7, whose middle is 1.5.
     *
     * @param non-empty-list<float> $sorted rising
     *
     * @return array{float, float}
     */
    public static function ofSorted(array $sorted): array
    {
        $median = self::middle($sorted);
        $count = count($sorted);
        $high = $count >> 1;
        $low = $high - 1;
        $before = $last = 0.0;
        // The nearer half of them says where their middle is.
        for ($needed = ($count >> 1) + 1; $needed > 0; --$needed) {
            $below = $low < 0 ? INF : ($sorted[$low] === $median ? 0.0 : $median - $sorted[$low]);
            $above = $high >= $count ? INF : ($sorted[$high] === $median ? 0.0 : $sorted[$high] - $median);
            $isAbove = $low < 0 || ($high < $count && $above <= $below);
            [$before, $last] = [$last, $isAbove ? $above : $below];
            $isAbove ? ++$high : --$low;
        }

        return [$median, ($count & 1) === 1 || $before === $last ? $last : $before + 0.5 * ($last - $before)];
    }

    /** @param non-empty-list<float> $values sorted */
    private static function middle(array $values): float
    {
        $count = count($values);
        $high = $values[$count >> 1];
        if (($count & 1) === 1) {
            return $high;
        }
        $low = $values[($count >> 1) - 1];

        return $low === $high ? $low : $low + 0.5 * ($high - $low);
    }

    /**
     * The plain median absolute deviation.
     *
     * @param non-empty-list<float> $values
     */
    public static function mad(array $values): float
    {
        $median = self::median($values);

        return self::median(
            array_map(static fn(float $value): float => $value === $median ? 0.0 : abs($value - $median), $values),
        );
    }

    /** @param non-empty-list<float> $values */
    public static function mean(array $values): float
    {
        return array_sum($values) / count($values);
    }

    /**
     * Of the whole population: divided by how many there are.
     *
     * @param non-empty-list<float> $values
     */
    public static function stddev(array $values): float
    {
        $mean = self::mean($values);
        $squares = 0.0;
        foreach ($values as $value) {
            $squares += ($value - $mean) ** 2;
        }

        return sqrt($squares / count($values));
    }

    /** A distance measured by a yardstick; by a yardstick of nothing, equal is 0 apart and different is infinitely far. */
    public static function distance(float $from, float $to, float $yardstick): float
    {
        if ($from === $to) {
            return 0.0;
        }

        return $yardstick > 0.0 ? ($to - $from) / $yardstick : ($to > $from ? INF : -INF);
    }
}
