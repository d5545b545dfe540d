<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Platform\Problem;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WeekHours;

/** An instant as a person writes it, by the clocks of a zone: `22:00`, `sat 22:00`, `2026-12-24 03:12`; the next one that it can be. */
final class WhenWritten
{
    private const REMEDY = 'at must be a time such as 22:00, sat 22:00 or 2026-12-24 03:12, or be left out for now';

    /** @throws Problem naming the field */
    public static function at(string $written, Instant $now, \DateTimeZone $zone): Instant
    {
        $words = strtolower(trim($written));
        if ($words === '') {
            return $now;
        }
        if (preg_match('~^(?:(\d{4})-(\d\d)-(\d\d) |(' . implode('|', WeekHours::DAYS) . ')[a-z]* )?(\d?\d):(\d\d)$~D', $words, $part) !== 1) {
            throw Problem::field('at', self::REMEDY);
        }
        [, $year, $month, $day, $weekday, $hour, $minute] = $part;
        if ($hour > 23 || $minute > 59 || ($year !== '' && !checkdate((int) $month, (int) $day, (int) $year))) {
            throw Problem::field('at', self::REMEDY);
        }
        $today = $now->in($zone)->setTime(0, 0);
        $onDay = static fn(\DateTimeImmutable $day): Instant => Instant::of($day->setTime((int) $hour, (int) $minute));
        if ($year !== '') {
            return $onDay($today->setDate((int) $year, (int) $month, (int) $day));
        }
        for ($ahead = 0; $ahead <= 7; ++$ahead) {
            $one = $today->modify("+{$ahead} days");
            $isDay = $weekday === '' || WeekHours::DAYS[(int) $one->format('N') - 1] === $weekday;
            if ($isDay && !$onDay($one)->isBefore($now)) {
                return $onDay($one);
            }
        }

        throw Problem::field('at', self::REMEDY);
    }
}
