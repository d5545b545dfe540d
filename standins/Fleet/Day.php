<?php

declare(strict_types=1);

namespace Olivine\Standin\Fleet;

/**
 * How busy the ferry line is at an instant, and how busy it was in all until then. Everything is a function of the
 * second alone, so that a counter can be told for any instant without adding up what went before.
 *
 * A day swings about its mean with peaks near 07 and 17 and a quiet night; Saturday mornings surge, as a trapezium
 * from 08 to 12; at Skarn the tide of 12.42 h shifts demand.
 */
final class Day
{
    private const DAY = 86_400;
    private const TIDE = 44_712;
    private const SURGE_FROM = 8 * 3600;
    private const SURGE_RAMP = 3600;
    private const SURGE_FLAT = 2 * 3600;
    private const SURGE_HEIGHT = 0.9;
    private const WEEK = 7 * self::DAY;
    /** 1 January 1970 was a Thursday; the first Saturday began two days later. */
    private const FIRST_SATURDAY = 2 * self::DAY;
    private const MOST_KEPT = 200_000;

    /** @var array<int, float> what was asked for lately: all signals of a target ask for the same seconds */
    private static array $activity = [];
    /** @var array<int, float> */
    private static array $busySeconds = [];

    /** Between about 0.25 at night and 1.7 at the peaks, 2.6 in the surge; 1 on the average. */
    public static function activity(int $second): float
    {
        if (isset(self::$activity[$second])) {
            return self::$activity[$second];
        }
        self::$activity = count(self::$activity) < self::MOST_KEPT ? self::$activity : [];

        return self::$activity[$second] =
            1 -
            0.5 * cos((2 * M_PI * ($second - 3600 * 1)) / self::DAY) +
            0.35 * cos((4 * M_PI * ($second - 3600 * 6)) / self::DAY) +
            self::SURGE_HEIGHT * self::surge($second);
    }

    /** The integral of activity, in busy seconds. */
    public static function busySeconds(int $second): float
    {
        if (isset(self::$busySeconds[$second])) {
            return self::$busySeconds[$second];
        }
        self::$busySeconds = count(self::$busySeconds) < self::MOST_KEPT ? self::$busySeconds : [];

        return self::$busySeconds[$second] =
            $second -
            ((0.5 * self::DAY) / (2 * M_PI)) * sin((2 * M_PI * ($second - 3600 * 1)) / self::DAY) +
            ((0.35 * self::DAY) / (4 * M_PI)) * sin((4 * M_PI * ($second - 3600 * 6)) / self::DAY) +
            self::SURGE_HEIGHT * self::surgeSeconds($second);
    }

    public static function tide(int $second): float
    {
        return 0.5 + 0.5 * sin((2 * M_PI * $second) / self::TIDE);
    }

    /** 0 Sunday to 6 Saturday. */
    public static function weekday(int $second): int
    {
        return (intdiv($second, self::DAY) + 4) % 7;
    }

    public static function secondOfDay(int $second): int
    {
        return $second % self::DAY;
    }

    private static function surge(int $second): float
    {
        $into = (($second - self::FIRST_SATURDAY) % self::WEEK) - self::SURGE_FROM;
        if ($into <= 0 || $into >= 2 * self::SURGE_RAMP + self::SURGE_FLAT) {
            return 0.0;
        }

        return min(1.0, $into / self::SURGE_RAMP, (2 * self::SURGE_RAMP + self::SURGE_FLAT - $into) / self::SURGE_RAMP);
    }

    private static function surgeSeconds(int $second): float
    {
        $since = $second - self::FIRST_SATURDAY;
        $whole = self::SURGE_RAMP + self::SURGE_FLAT;
        $into = ($since % self::WEEK) - self::SURGE_FROM;
        $ramp = self::SURGE_RAMP;
        $part = match (true) {
            $into <= 0 => 0.0,
            $into < $ramp => $into ** 2 / (2 * $ramp),
            $into < $ramp + self::SURGE_FLAT => $ramp / 2 + $into - $ramp,
            $into < 2 * $ramp + self::SURGE_FLAT => $whole - (2 * $ramp + self::SURGE_FLAT - $into) ** 2 / (2 * $ramp),
            default => (float) $whole,
        };

        return intdiv($since, self::WEEK) * $whole + $part;
    }
}
