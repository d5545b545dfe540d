<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Calendar;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\OneLine;
use Olivine\App\Platform\Setting;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\Entity\AbsenceCalendar;
use Olivine\App\Roster\Entity\KeptAbsence;
use Olivine\App\Roster\Repository\AbsenceCalendarRepository;
use Olivine\App\Roster\Repository\AbsenceRepository;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Calendars from outside, kept up to date: what a person's says becomes absences, what the site's says holidays. One that cannot be read
 * says so and changes nothing. What was before a change was read is not changed by it.
 */
final readonly class AbsenceCalendars
{
    private const AHEAD_DAYS = 400;
    private const EVERY_MINUTES = 15;
    private const READ_AT_ONCE = 2;
    private const LONGEST_FAULT = 500;

    public function __construct(
        private EntityManagerInterface $entities,
        private AbsenceCalendarRepository $calendars,
        private AbsenceRepository $absences,
        private CalendarFetch $fetch,
        private Settings $settings,
        private Clock $clock = new Clock(),
    ) {
    }

    /** A few of those at an address that were not read for a while; one that fails stops none of the others, and waits for its next turn. */
    public function readDue(): void
    {
        $before = $this->clock->now()->minus(Duration::ofMinutes(self::EVERY_MINUTES));
        foreach ($this->calendars->due($before, self::READ_AT_ONCE) as $calendar) {
            $calendar->triedAt = $this->clock->now();
            $this->entities->flush();
            $this->readAnew($calendar);
        }
    }

    /** Reads one at its address; what is wrong stands with it. */
    public function readAnew(AbsenceCalendar $calendar): void
    {
        try {
            $this->take($calendar, $this->fetch->text($this->settings->open((string) $calendar->url)));
        } catch (BadCalendar $bad) {
            $calendar->triedAt = $this->clock->now();
            $calendar->fault = mb_strcut(OneLine::of($bad->getMessage()), 0, self::LONGEST_FAULT);
            $this->entities->flush();
        }
    }

    /** @throws BadCalendar where it cannot be read; nothing is changed then */
    public function take(AbsenceCalendar $calendar, string $text): void
    {
        $now = $this->clock->now();
        $zone = $this->settings->zone();
        $spans = CalendarReader::read($text, $now, $now->plus(Duration::ofDays(self::AHEAD_DAYS)), $zone);
        if ($calendar->personId === null) {
            $this->takeHolidays($calendar, $spans);
        } else {
            $this->takeAbsences($calendar, $calendar->personId, $spans, $now);
        }
        $calendar->triedAt = $calendar->readAt = $now;
        $calendar->fault = '';
        $calendar->entries = count($spans);
        $this->entities->flush();
    }

    /** What it said of the time to come is no more. */
    public function remove(AbsenceCalendar $calendar): void
    {
        $now = $this->clock->now();
        $this->letGo($this->absences->ofCalendar($calendar->id(), $now), $now);
        $this->entities->remove($calendar);
        $this->entities->flush();
        if ($calendar->personId === null) {
            $this->keepHolidays();
        }
    }

    /** @param list<CalendarSpan> $spans */
    private function takeAbsences(AbsenceCalendar $calendar, int $person, array $spans, Instant $now): void
    {
        $kept = [];
        foreach ($this->absences->ofCalendar($calendar->id(), $now) as $absence) {
            $kept["{$absence->fromAt->ms} {$absence->toAt->ms} {$absence->note}"] = $absence;
        }
        foreach ($spans as $span) {
            $key = "{$span->from->ms} {$span->to->ms} {$span->words}";
            if (isset($kept[$key])) {
                unset($kept[$key]);

                continue;
            }
            $absence = new KeptAbsence($person, $span->from, $span->to, $span->words, null, $now);
            $absence->calendarId = $calendar->id();
            $this->entities->persist($absence);
        }
        $this->letGo(array_values($kept), $now);
    }

    /** @param list<CalendarSpan> $spans */
    private function takeHolidays(AbsenceCalendar $calendar, array $spans): void
    {
        $days = [];
        foreach ($spans as $span) {
            for ($day = $span->day; $day !== null && $day < $span->to->in($this->settings->zone())->format('Y-m-d');) {
                $days[] = $day;
                $day = (new \DateTimeImmutable($day))->modify('+1 day')->format('Y-m-d');
            }
        }
        $calendar->days = array_values(array_unique($days));
        $this->entities->flush();
        $this->keepHolidays();
    }

    private function keepHolidays(): void
    {
        $days = array_merge(...array_map(static fn(AbsenceCalendar $one): array => $one->days, $this->calendars->of(null)));
        sort($days);
        $this->settings->keep([Setting::CalendarHolidays->value => implode(', ', array_unique($days))]);
    }

    /**
     * One that has begun ends now; one that is to come is no more.
     *
     * @param list<KeptAbsence> $absences
     */
    private function letGo(array $absences, Instant $now): void
    {
        foreach ($absences as $absence) {
            if ($absence->fromAt->isBefore($now)) {
                $absence->toAt = $now;
            } else {
                $this->entities->remove($absence);
            }
        }
    }
}
