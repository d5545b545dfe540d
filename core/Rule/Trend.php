<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** Where a thing that fills slowly is going: a straight line by least squares, believed only where it fits well. */
final class Trend
{
    private const LEAST_FIT = 0.8;
    private const LEAST_VALUES = 12;

    /**
     * By example, a disk at 70 % that gained a point an hour reaches its limit of 90 % in twenty hours.
     *
     * @param list<float|null> $values one a step, the newest last; those that are not there or not finite do not count
     *
     * @return Instant|null at which the line passes the limit; null where it does not fit, leads away, or is past it already
     */
    public static function crossing(array $values, Duration $step, Instant $newest, float $limit, Side $direction): ?Instant
    {
        $points = [];
        $last = count($values) - 1;
        foreach ($values as $i => $value) {
            if ($value !== null && is_finite($value)) {
                $points[] = [(($i - $last) * $step->ms) / 1000, $value];
            }
        }
        $n = count($points);
        if ($n < self::LEAST_VALUES) {
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
        // What is all but constant has no direction, and what overflows no line.
        if ($xx <= 0 || $yy <= 0 || !is_finite($xx * $yy) || !($xy ** 2 / ($xx * $yy) >= self::LEAST_FIT)) {
            return null;
        }
        $slope = $xy / $xx;
        $level = $meanY - $slope * $meanX;
        if ($direction->isPast($level, $limit) || ($direction === Side::Above ? $slope <= 0 : $slope >= 0)) {
            return null;
        }
        $seconds = ($limit - $level) / $slope;

        return $seconds * 1000 < PHP_INT_MAX - $newest->ms ? $newest->plus(Duration::ofMs((int) ($seconds * 1000))) : null;
    }
}
