<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\People\Audit;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\People\Role;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Platform\Settings;
use Olivine\App\Roster\Answer\ShownCalendar;
use Olivine\App\Roster\Answer\ShownLink;
use Olivine\App\Roster\Calendar\AbsenceCalendars;
use Olivine\App\Roster\Calendar\BadCalendar;
use Olivine\App\Roster\Calendar\ShiftCalendar;
use Olivine\App\Roster\Definition\CalendarFields;
use Olivine\App\Roster\Entity\AbsenceCalendar;
use Olivine\App\Roster\Entity\CalendarLink;
use Olivine\App\Roster\Repository\AbsenceCalendarRepository;
use Olivine\App\Roster\Repository\CalendarLinkRepository;
use Olivine\App\Roster\Repository\RosterRepository;
use Olivine\Core\Roster\Shift;
use Olivine\Core\Time\Duration;

/** Calendars out, at secret addresses that can be ended, and in, from addresses and files. */
final readonly class Subscriptions
{
    private const MOST = 20;
    private const BACK_DAYS = 14;
    private const AHEAD_DAYS = 90;

    public function __construct(
        private EntityManagerInterface $entities,
        private CalendarLinkRepository $links,
        private AbsenceCalendarRepository $calendars,
        private AbsenceCalendars $reading,
        private RosterRepository $rosters,
        private KeptRosters $kept,
        private PersonRepository $people,
        private Settings $settings,
        private Audit $audit,
        private Clock $clock = new Clock(),
    ) {
    }

    /** @throws Problem 404, 409 */
    public function subscribe(?int $roster, Person $person): ShownLink
    {
        if (count($this->links->of($person->id())) >= self::MOST) {
            throw new Problem(409, 'There are ' . self::MOST . ' subscriptions already, as many as may be; end one first');
        }
        $of = $roster === null ? null : $this->rosters->there($roster);
        $token = rtrim(strtr(base64_encode(random_bytes(24)), '+/', '-_'), '=');
        $link = new CalendarLink($person->id(), $of?->id, self::digest($token), $this->clock->now());
        $this->entities->persist($link);
        $this->entities->flush();
        $this->audit->record('made a subscription to', $of === null ? 'own shifts' : "roster {$of->name}", null, null);

        return $this->link($link, "{$this->settings->publicUrl()}/calendar/{$token}.ics");
    }

    /** @throws Problem 404 */
    public function end(int $id, Person $person): void
    {
        $link = $this->links->there($id, $person->id());
        $link->endedAt = $this->clock->now();
        $this->entities->flush();
        $this->audit->record('ended a subscription to', $link->rosterId === null ? 'own shifts' : "roster {$link->rosterId}", null, null);
    }

    /** @return string|null as an iCalendar; null where the address was ended, or whose it is may not read any more */
    public function calendar(#[\SensitiveParameter] string $token): ?string
    {
        $link = $this->links->withDigest(self::digest($token));
        $person = $link === null ? null : $this->people->find($link->personId);
        if ($link === null || $person?->mayAct() !== true) {
            return null;
        }
        $now = $this->clock->now();
        $link->usedAt = $now;
        $this->entities->flush();
        [$from, $to] = [$now->minus(Duration::ofDays(self::BACK_DAYS)), $now->plus(Duration::ofDays(self::AHEAD_DAYS))];
        $rosters = $this->kept->since($from);
        $shifts = [];
        foreach ($this->rosters->inOrder() as $roster) {
            if ($link->rosterId === null || $link->rosterId === $roster->id) {
                $all = $rosters->named($roster->name)?->touching($from, $to) ?? [];
                $own = array_values(array_filter($all, static fn(Shift $one): bool => $one->person === $person->id));
                $shifts[$roster->name] = $link->rosterId === null ? $own : $all;
            }
        }
        $names = $this->people->names();

        return ShiftCalendar::of($shifts, static fn(int $one): string => $names[$one] ?? 'somebody who is gone');
    }

    /** @throws Problem 403; 422 naming the field */
    public function add(CalendarFields $fields, Person $person): ShownCalendar
    {
        if ($fields->holidays && $person->role !== Role::Administrator) {
            throw new Problem(403, 'Holidays of the site are kept by administrators');
        }
        if (($fields->url === '') === ($fields->text === '')) {
            throw Problem::field('url', 'url: give an address, or a file');
        }
        $of = $fields->holidays ? null : $person->id();
        if (count($this->calendars->of($of)) >= self::MOST) {
            throw new Problem(409, 'There are ' . self::MOST . ' calendars already, as many as may be; take one out first');
        }
        $calendar = new AbsenceCalendar($of, $fields->name, $fields->url === '' ? null : $this->settings->seal($fields->url), $person->id);
        $this->entities->persist($calendar);
        $this->entities->flush();
        $this->firstRead($calendar, $fields);
        $this->audit->record('added the calendar', $fields->name, null, ['holidays' => $fields->holidays, 'entries' => $calendar->entries]);

        return $this->shown($calendar);
    }

    /** @throws Problem 404, 409 */
    public function readAgain(int $id, Person $person): ShownCalendar
    {
        $calendar = $this->own($id, $person);
        if ($calendar->url === null) {
            throw new Problem(409, 'It was given as a file; take it out and give the new one');
        }
        $this->reading->readAnew($calendar);

        return $this->shown($calendar);
    }

    /** @throws Problem 403, 404 */
    public function remove(int $id, Person $person): void
    {
        $calendar = $this->own($id, $person);
        $name = $calendar->name;
        $this->reading->remove($calendar);
        $this->audit->record('took out the calendar', $name, null, null);
    }

    /** @return list<ShownLink> */
    public function linksOf(Person $person): array
    {
        return array_map(fn(CalendarLink $one): ShownLink => $this->link($one, null), $this->links->of($person->id()));
    }

    /** @return list<ShownCalendar> their own; for administrators those of holidays too */
    public function calendarsOf(Person $person): array
    {
        $all = [...$this->calendars->of($person->id()), ...($person->role === Role::Administrator ? $this->calendars->of(null) : [])];

        return array_map($this->shown(...), $all);
    }

    /**
     * What cannot be read the first time is not kept at all.
     *
     * @throws Problem naming the field
     */
    private function firstRead(AbsenceCalendar $calendar, CalendarFields $fields): void
    {
        if ($calendar->url !== null) {
            $this->reading->readAnew($calendar);
            $fault = $calendar->fault;
        } else {
            $fault = '';
            try {
                $this->reading->take($calendar, $fields->text);
            } catch (BadCalendar $bad) {
                $fault = $bad->getMessage();
            }
        }
        if ($fault !== '') {
            $this->entities->remove($calendar);
            $this->entities->flush();
            $field = $fields->url === '' ? 'text' : 'url';
            throw Problem::field($field, "{$field}: {$fault}");
        }
    }

    /** @throws Problem 403, 404 */
    private function own(int $id, Person $person): AbsenceCalendar
    {
        $calendar = $this->calendars->there($id);
        $may = $calendar->personId === $person->id || ($calendar->personId === null && $person->role === Role::Administrator);

        return $may ? $calendar : throw new Problem(403, 'This calendar is not yours');
    }

    private function link(CalendarLink $link, ?string $address): ShownLink
    {
        $of = $link->rosterId === null ? 'my shifts' : $this->rosters->find($link->rosterId)->name ?? '';

        return new ShownLink((int) $link->id, $of, $link->madeAt, $link->usedAt, $address);
    }

    private function shown(AbsenceCalendar $one): ShownCalendar
    {
        return new ShownCalendar($one->id(), $one->name, $one->personId === null, $one->url === null, $one->readAt, $one->fault, $one->entries);
    }

    private static function digest(#[\SensitiveParameter] string $token): string
    {
        return hash('sha256', $token);
    }
}
