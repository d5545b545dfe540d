<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition;

use Olivine\App\Platform\Problem;
use Olivine\Core\Time\DailyTimes;

/** A time of the day as it is written: `08:00`, and `24:00` for its end. */
final readonly class ClockTime
{
    private const END_OF_DAY = 1_440;

    /**
     * @param string $field that holds it
     *
     * @return int minutes of the day
     *
     * @throws Problem naming the field
     */
    public static function minutes(string $field, string $written, bool $mayEndTheDay = false): int
    {
        $minutes = preg_match('~^(\d\d):([0-5]\d)$~D', $written, $part) === 1 ? 60 * (int) $part[1] + (int) $part[2] : PHP_INT_MAX;
        $isTime = $minutes < self::END_OF_DAY || ($mayEndTheDay && $minutes === self::END_OF_DAY);

        return $isTime ? $minutes : throw Problem::field($field, "{$field} must be a time of the day such as 08:00; this is {$written}");
    }

    /**
     * @param list<string> $written
     *
     * @throws Problem naming the field
     */
    public static function daily(string $field, array $written, \DateTimeZone $zone): ?DailyTimes
    {
        $minutes = array_map(static fn(string $one): int => self::minutes($field, $one), $written);

        return $minutes === [] ? null : new DailyTimes($minutes, $zone);
    }
}
