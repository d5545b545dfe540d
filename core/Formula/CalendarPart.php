<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** Which part of the local time is taken. */
enum CalendarPart: string
{
    /** 0 to 23 */
    case Hour = 'hour';
    /** 1 is Monday, 7 is Sunday, as in ISO 8601 */
    case Weekday = 'weekday';

    public function at(int $atMs, \DateTimeZone $zone): float
    {
        $local = (new \DateTimeImmutable('@' . intdiv($atMs, 1000)))->setTimezone($zone);

        return (float) $local->format($this === self::Hour ? 'G' : 'N');
    }
}
