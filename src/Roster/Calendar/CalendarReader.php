<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Calendar;

use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Scalar;
use Olivine\Core\Time\Instant;
use Sabre\VObject\Component\VCalendar;
use Sabre\VObject\Component\VEvent;
use Sabre\VObject\Property;
use Sabre\VObject\Property\ICalendar\DateTime;
use Sabre\VObject\Property\ICalendar\Duration;
use Sabre\VObject\Reader;
use Sabre\VObject\Settings;

/**
 * What an iCalendar (RFC 5545) says of a span: its entries, those that come again and again each by itself, without what was cancelled
 * and what leaves its time free. Entries of whole days are days on the clocks of a zone.
 */
final readonly class CalendarReader
{
    private const MOST_BYTES = 2_000_000;
    private const MOST_ENTRIES = 2_000;
    /** Each working day for a working life. */
    private const MOST_RECURRENCES = 12_000;
    private const MOST_LOOKED_THROUGH = 300_000;
    private const LONGEST_WORDS = 200;

    /**
     * @return list<CalendarSpan> that touch `[from, to)`, in the order of time
     *
     * @throws BadCalendar where it cannot be read
     */
    public static function read(string $text, Instant $from, Instant $to, \DateTimeZone $zone): array
    {
        if (strlen($text) > self::MOST_BYTES) {
            throw new BadCalendar(sprintf('The calendar is larger than %d MB', self::MOST_BYTES / 1_000_000));
        }
        if (stripos(ltrim($text, "\xEF\xBB\xBF \r\n\t"), 'BEGIN:VCALENDAR') !== 0) {
            throw new BadCalendar('This is no calendar: it does not begin with BEGIN:VCALENDAR');
        }
        $most = Settings::$maxRecurrences;
        Settings::$maxRecurrences = self::MOST_RECURRENCES;
        // What the reader of the library stumbles over is a fault of the calendar.
        $fail = static fn(int $level, string $message): never => throw new BadCalendar("The calendar cannot be read: {$message}");
        set_error_handler($fail, E_WARNING | E_NOTICE);
        try {
            return self::entries($text, $from, $to, $zone);
        } catch (BadCalendar $bad) {
            throw $bad;
        } catch (\Throwable $error) {
            throw new BadCalendar('The calendar cannot be read: ' . mb_strcut(OneLine::of(mb_scrub($error->getMessage())), 0, self::LONGEST_WORDS), 0, $error);
        } finally {
            restore_error_handler();
            Settings::$maxRecurrences = $most;
        }
    }

    /**
     * @return list<CalendarSpan>
     *
     * @throws BadCalendar
     */
    private static function entries(string $text, Instant $from, Instant $to, \DateTimeZone $zone): array
    {
        $calendar = Reader::read($text, Reader::OPTION_FORGIVING);
        if (!$calendar instanceof VCalendar) {
            throw new BadCalendar('This is no calendar');
        }
        self::refuseTooMuch($calendar, $to);
        // Entries of a day before may last on.
        $expanded = $calendar->expand($from->in($zone)->modify('-40 days'), $to->in($zone), $zone);
        $spans = [];
        foreach ($expanded->select('VEVENT') as $event) {
            $span = $event instanceof VEvent ? self::span($event, $zone) : null;
            if ($span !== null && $span->from->isBefore($to) && $span->to->isAfter($from)) {
                $spans[] = $span;
            }
            if (count($spans) > self::MOST_ENTRIES) {
                throw new BadCalendar('The calendar has more than ' . self::MOST_ENTRIES . ' entries in the next time');
            }
        }
        usort($spans, static fn(CalendarSpan $a, CalendarSpan $b): int => $a->from->ms <=> $b->from->ms);

        return $spans;
    }

    /**
     * Entries that come again are looked through from the first one on: how often that would be is told before it is done.
     *
     * @throws BadCalendar where a rule is not understood, or all of them together come too often
     */
    private static function refuseTooMuch(VCalendar $calendar, Instant $to): void
    {
        $times = 0.0;
        foreach ($calendar->select('VEVENT') as $event) {
            if (!$event instanceof VEvent) {
                continue;
            }
            foreach ($event->select('RRULE') as $rule) {
                $said = $rule instanceof Property ? Scalar::text($rule->getValue()) : '';
                RecurrenceRule::check($said);
                $begin = $event->__get('DTSTART');
                $days = $begin instanceof DateTime ? max(1.0, ($to->ms / 1_000 - $begin->getDateTime()->getTimestamp()) / 86_400) : 1.0;
                $times += $days / (str_contains(strtoupper($said), 'DAILY') ? 1 : 2);
            }
        }
        if ($times > self::MOST_LOOKED_THROUGH) {
            throw new BadCalendar('The entries of the calendar come again too often, over too many years; let it begin later');
        }
    }

    /** @return CalendarSpan|null null where it takes no time */
    private static function span(VEvent $event, \DateTimeZone $zone): ?CalendarSpan
    {
        $begin = $event->__get('DTSTART');
        $said = static fn(string $name): string => strtoupper(Scalar::text((string) ($event->__get($name) ?? '')));
        if (!$begin instanceof DateTime || $said('STATUS') === 'CANCELLED' || $said('TRANSP') === 'TRANSPARENT') {
            return null;
        }
        $from = $begin->getDateTime($zone);
        $end = $event->__get('DTEND');
        $lasts = $event->__get('DURATION');
        $to = match (true) {
            $end instanceof DateTime => $end->getDateTime($zone),
            $lasts instanceof Duration => $from->add($lasts->getDateInterval()),
            !$begin->hasTime() => $from->modify('+1 day'),
            default => $from,
        };
        $isDay = !$begin->hasTime();
        $words = mb_strcut(OneLine::of(mb_scrub((string) ($event->__get('SUMMARY') ?? ''))), 0, self::LONGEST_WORDS);

        return $to > $from ? new CalendarSpan(Instant::of($from), Instant::of($to), $words, $isDay ? $from->format('Y-m-d') : null) : null;
    }
}
