<?php

declare(strict_types=1);

namespace Olivine\App\Store;

/**
 * Four hours of readings, half open like a window: `(start, end]`. What is sealed lies in runs of whole spans, a block
 * a series each: one span of a day that goes on, and more of a day that is over.
 */
final class Span
{
    public const MS = 14_400_000;
    public const DAY_MS = 86_400_000;

    public static function startOf(int $atMs): int
    {
        return self::cut($atMs, self::MS);
    }

    public static function dayOf(int $atMs): int
    {
        return self::cut($atMs, self::DAY_MS);
    }

    /** @return int the start of the run of this length that holds the instant */
    public static function cut(int $atMs, int $lengthMs): int
    {
        return intdiv($atMs - 1, $lengthMs) * $lengthMs;
    }

    /** @return int whole spans from the start through this instant, in milliseconds */
    public static function through(int $startMs, int $atMs): int
    {
        return self::startOf($atMs) + self::MS - $startMs;
    }
}
