<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Definition;

use Olivine\App\Platform\Problem;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;

/** Days and times on the clocks of a roster, as they are written: `2026-11-28`, `2026-11-28 10:00`. */
final readonly class LocalTime
{
    private const TIME = '~^(\d{4}-\d\d-\d\d)[ T](\d\d):(\d\d)$~D';

    /**
     * @param string $field that holds it
     *
     * @return int days since 1 January 1970
     *
     * @throws Problem naming the field
     */
    public static function day(string $field, string $written): int
    {
        $isDay = preg_match('~^(\d{4})-(\d\d)-(\d\d)$~D', $written, $part) === 1
            && (int) $part[1] >= 1970
            && checkdate((int) $part[2], (int) $part[3], (int) $part[1]);

        return $isDay ? WallTimes::day($written) : throw Problem::field($field, "{$field} must be a day such as 2026-11-23; this is {$written}");
    }

    /**
     * @param string $field that holds it
     *
     * @throws Problem naming the field
     */
    public static function instant(string $field, string $written, WallTimes $wall): Instant
    {
        if (preg_match(self::TIME, $written, $part) !== 1 || (int) $part[2] > 23 || (int) $part[3] > 59) {
            throw Problem::field($field, "{$field} must be a time such as 2026-11-28 10:00, on the clocks of the roster; this is {$written}");
        }

        return Instant::ofMs($wall->at(self::day($field, $part[1]), 60 * (int) $part[2] + (int) $part[3]));
    }
}
