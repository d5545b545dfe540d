<?php

declare(strict_types=1);

namespace Olivine\Standin\Fleet;

/** Noise that is the same whenever it is asked for: a hash of seed and second. */
final class Noise
{
    /** @var array<int, array{int, float, float}> seed → the step it was asked for last, and the values at both its ends */
    private static array $ends = [];

    /** -1 to 1, another value every $period seconds, with a straight line between. */
    public static function at(int $seed, int $second, int $period): float
    {
        $step = intdiv($second, $period);
        $share = ($second % $period) / $period;
        $ends = self::$ends[$seed] ?? null;
        if ($ends === null || $ends[0] !== $step) {
            $ends = self::$ends[$seed] = [$step, self::hash($seed + $step), self::hash($seed + $step + 1)];
        }

        return $ends[1] * (1 - $share) + $ends[2] * $share;
    }

    /** -1 to 1. */
    public static function hash(int $number): float
    {
        $number = (($number ^ ($number >> 15)) * 0x2c1b3c6d) & 0xffffffff;
        $number = (($number ^ ($number >> 12)) * 0x297a2d39) & 0xffffffff;

        return (($number ^ ($number >> 15)) & 0xffffff) / 0x7fffff - 1;
    }
}
