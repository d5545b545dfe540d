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
    /** A day that is over is cut into equal runs, as few as hold no more readings than this: longer blocks take less room beside them, much longer ones no longer fit into a page of the server. */
    private const MOST_A_RUN = 1_500;

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

    /** @return int how long a run is on a day, now over, with so many readings of each series */
    public static function runOfDay(int $readings): int
    {
        foreach ([1, 2, 3] as $runs) {
            if ($readings <= $runs * self::MOST_A_RUN) {
                return intdiv(self::DAY_MS, $runs);
            }
        }

        return self::MS;
    }

    /** @return int whole spans from the start through this instant, in milliseconds */
    public static function through(int $startMs, int $atMs): int
    {
        return self::startOf($atMs) + self::MS - $startMs;
    }
}
