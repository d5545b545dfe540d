<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Calendar;

use Olivine\Core\Roster\Shift;
use Sabre\VObject\Component\VCalendar;

/** Shifts as an iCalendar (RFC 5545): an event each, those without anybody too, so that a gap is seen in any calendar. */
final readonly class ShiftCalendar
{
    private const BY = '-//Olivine//Roster//EN';

    /**
     * @param array<string, list<Shift>> $shifts by roster
     * @param callable(int): string      $name
     */
    public static function of(array $shifts, callable $name): string
    {
        $calendar = new VCalendar(['PRODID' => self::BY]);
        foreach ($shifts as $roster => $ofRoster) {
            foreach ($ofRoster as $shift) {
                $who = $shift->person === null ? 'Nobody' : $name($shift->person);
                $from = new \DateTimeImmutable('@' . intdiv($shift->from->ms, 1000));
                $calendar->add('VEVENT', [
                    'UID' => hash('sha256', "{$roster} {$shift->from->ms} {$who}") . '@olivine',
                    // The same shift is the same event whenever it is told.
                    'DTSTAMP' => $from,
                    'DTSTART' => $from,
                    'DTEND' => new \DateTimeImmutable('@' . intdiv($shift->to->ms, 1000)),
                    'SUMMARY' => "{$who} on call: {$roster}",
                    'DESCRIPTION' => $shift->because($name),
                ]);
            }
        }

        return $calendar->serialize();
    }
}
