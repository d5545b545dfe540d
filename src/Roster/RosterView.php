<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Olivine\App\Delivery\Contacts;
use Olivine\App\Delivery\Files\AppliedParts;
use Olivine\App\People\Entity\Person;
use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\People\Role;
use Olivine\App\Platform\Clock;
use Olivine\App\Platform\Problem;
use Olivine\App\Roster\Answer\RosterList;
use Olivine\App\Roster\Answer\RosterPerson;
use Olivine\App\Roster\Answer\RosterRow;
use Olivine\App\Roster\Answer\ShownAbsence;
use Olivine\App\Roster\Answer\ShownCover;
use Olivine\App\Roster\Answer\ShownDouble;
use Olivine\App\Roster\Answer\ShownReach;
use Olivine\App\Roster\Answer\ShownRoster;
use Olivine\App\Roster\Answer\ShownRosterRevision;
use Olivine\App\Roster\Answer\ShownRotation;
use Olivine\App\Roster\Answer\ShownShift;
use Olivine\App\Roster\Answer\ShownTurn;
use Olivine\App\Roster\Definition\LocalTime;
use Olivine\App\Roster\Definition\RosterDefinition;
use Olivine\App\Roster\Definition\RotationDefinition;
use Olivine\App\Roster\Entity\KeptAbsence;
use Olivine\App\Roster\Entity\KeptCover;
use Olivine\App\Roster\Entity\KeptRoster;
use Olivine\App\Roster\Entity\RosterRevision;
use Olivine\App\Roster\Repository\AbsenceCalendarRepository;
use Olivine\App\Roster\Repository\AbsenceRepository;
use Olivine\App\Roster\Repository\CoverRepository;
use Olivine\App\Roster\Repository\RosterRepository;
use Olivine\App\Roster\Repository\RosterRevisionRepository;
use Olivine\Core\Roster\DoubleBooking;
use Olivine\Core\Roster\Handover;
use Olivine\Core\Roster\Roster;
use Olivine\Core\Roster\RosterHistory;
use Olivine\Core\Roster\Rosters;
use Olivine\Core\Roster\Shift;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;

/** Rosters as they are shown: at a glance, and one over some weeks with all that makes it. */
final readonly class RosterView
{
    private const GAP_DAYS = 14;

    public function __construct(
        private RosterRepository $rosters,
        private RosterRevisionRepository $revisions,
        private CoverRepository $covers,
        private AbsenceRepository $absences,
        private AbsenceCalendarRepository $calendars,
        private KeptRosters $kept,
        private PersonRepository $people,
        private Contacts $contacts,
        private AppliedParts $applied,
        private Clock $clock = new Clock(),
    ) {
    }

    public function all(): RosterList
    {
        $now = $this->clock->now();
        $rosters = $this->kept->since($now);
        $names = $this->people->names();
        $newest = $this->kept->newest();
        $rows = [];
        foreach ($this->rosters->inOrder() as $kept) {
            $history = $rosters->named($kept->name);
            if ($history === null) {
                continue;
            }
            $gaps = self::gaps($history->shifts($now, $now->plus(Duration::ofDays(self::GAP_DAYS))));
            $under = $history->touching($now, $now->plus(Duration::ofMs(1)))[0] ?? $history->at($now);
            $rows[] = new RosterRow(
                id: $kept->id(),
                name: $kept->name,
                zone: $newest[$kept->name]->zone ?? 'UTC',
                now: self::shift($under, $names),
                next: $names[$history->next($now)] ?? null,
                gaps: count($gaps),
                firstGap: $gaps === [] ? null : self::shift($gaps[0], $names),
            );
        }

        return new RosterList($now, $rows, $this->shownPeople($newest));
    }

    /**
     * @param string $day  `2026-11-23`, or "": the Monday of this week, on the clocks of the roster
     * @param int    $days of the span
     *
     * @throws Problem 404; 422 naming the field
     */
    public function one(int $id, string $day, int $days, Person $reader): ShownRoster
    {
        $kept = $this->rosters->there($id);
        $revision = $this->revisions->newest($id);
        $definition = $this->kept->definition($revision);
        $wall = new WallTimes(new \DateTimeZone($definition->zone));
        $now = $this->clock->now();
        $first = $day === '' ? self::monday($wall->dayOf($now)) : LocalTime::day('from', $day);
        $from = Instant::ofMs($wall->at($first, 0));
        $to = Instant::ofMs($wall->at($first + $days, 0));
        $names = $this->people->names();
        $rosters = $this->kept->since($from->earlier($now));
        $history = $rosters->named($kept->name) ?? throw new Problem(409, "The roster {$kept->name} cannot be read any more; put it into service once more");
        $shifts = $history->shifts($from, $to);
        $shown = static fn(Shift $one): ShownShift => self::shift($one, $names);

        return new ShownRoster(
            id: $id,
            number: $revision->number,
            definition: $definition,
            fromFiles: isset($this->applied->all()["roster {$kept->name}"]),
            from: $from,
            to: $to,
            now: $now,
            shiftEnds: $this->shiftEnds($history, $now),
            rotations: $this->rotations($id, $from, $to, $names),
            covers: $this->coversOf($kept, $from, $to, $reader),
            away: $this->away($id, $this->namedBy($id), $from, $to, $reader),
            shifts: array_map($shown, $shifts),
            doubles: $this->doubles($kept, $shifts, $rosters, $from, $to, $names),
            revisions: $this->shownRevisions($id, $names),
            reach: $this->reach($definition),
        );
    }

    /**
     * @param list<Shift> $shifts
     *
     * @return list<Shift> in which somebody should be on call and is not; where no rotation has hours nobody should be
     */
    public static function gaps(array $shifts): array
    {
        return array_values(array_filter($shifts, static fn(Shift $one): bool => $one->isGap() && $one->away !== []));
    }

    /** @return array<int, string> of all people, by their id */
    public function names(): array
    {
        return $this->people->names();
    }

    /** @param array<int, string> $names */
    public static function shift(Shift $shift, array $names): ShownShift
    {
        return new ShownShift(
            person: $shift->person === null ? null : $names[$shift->person] ?? 'somebody who is gone',
            personId: $shift->person,
            from: $shift->from,
            to: $shift->to,
            rotation: $shift->rotation,
            because: $shift->because(static fn(int $person): string => $names[$person] ?? 'somebody who is gone'),
        );
    }

    public function cover(KeptCover $cover, string $roster, Person $reader): ShownCover
    {
        $names = $this->people->names();
        $isAsked = $cover->state === CoverState::Asked;

        return new ShownCover(
            id: $cover->id(),
            rosterId: $cover->rosterId,
            roster: $roster,
            person: $names[$cover->personId] ?? '',
            personId: $cover->personId,
            for: $names[$cover->forId] ?? '',
            forId: $cover->forId,
            from: $cover->fromAt,
            to: $cover->toAt,
            state: $cover->state,
            note: $cover->note,
            askedBy: $names[$cover->askedBy] ?? null,
            inReturn: $cover->swapId !== null,
            mayAnswer: $isAsked && $cover->personId === $reader->id && $cover->askedBy !== $reader->id,
            mayWithdraw: ($isAsked || $cover->state->takesPlace())
                && ($reader->role === Role::Administrator || in_array($reader->id, [$cover->askedBy, $cover->forId], true)),
        );
    }

    public function absence(KeptAbsence $absence, Person $reader): ShownAbsence
    {
        return new ShownAbsence(
            id: $absence->id(),
            person: $this->people->names()[$absence->personId] ?? '',
            personId: $absence->personId,
            from: $absence->fromAt,
            to: $absence->toAt,
            note: $absence->note,
            calendar: $absence->calendarId === null ? null : $this->calendars->names()[$absence->calendarId] ?? 'a calendar',
            mayEnd: $absence->calendarId === null && ($reader->role === Role::Administrator || $absence->personId === $reader->id),
        );
    }

    /**
     * @param array<string, RosterDefinition> $rosters by name
     *
     * @return list<RosterPerson> who may be put on a roster, by name
     */
    private function shownPeople(array $rosters): array
    {
        $may = array_filter($this->people->byName(), static fn(Person $one): bool => $one->mayAct());
        $on = static fn(Person $one): array => array_keys(
            array_filter($rosters, static fn(RosterDefinition $roster): bool => in_array($one->email, $roster->people(), true)),
        );

        return array_values(
            array_map(static fn(Person $one): RosterPerson => new RosterPerson($one->id(), $one->name, $one->email, array_map(strval(...), $on($one))), $may),
        );
    }

    /** @return list<ShownReach> */
    private function reach(RosterDefinition $definition): array
    {
        $reach = [];
        foreach ($definition->people() as $address) {
            $person = $this->people->atAddress($address);
            if ($person !== null) {
                $reach[] = new ShownReach($person->name, $person->id(), $this->contacts->of($person));
            }
        }

        return $reach;
    }

    private function shiftEnds(RosterHistory $history, Instant $now): Instant
    {
        $shift = $history->touching($now, $now->plus(Duration::ofMs(1)))[0] ?? null;

        return $shift === null || $shift->isGap() ? $now : $shift->to;
    }

    /**
     * The rotations that hold in a span: of those that were otherwise before, each as it was.
     *
     * @param array<int, string> $names
     *
     * @return list<ShownRotation> the lowest first
     *
     * @throws Problem where one cannot be read any more
     */
    private function rotations(int $id, Instant $from, Instant $to, array $names): array
    {
        $turns = $words = [];
        foreach ($this->holding($id, $from, $to) as [$begin, $end, $revision]) {
            $roster = $this->kept->rotations($revision);
            foreach ($this->kept->definition($revision)->rotations as $place => $definition) {
                $words[$definition->name] = RosterWords::rotation($definition);
                foreach ($this->turns($roster, $place, $begin, $end) as [$person, $at, $until]) {
                    $turns[$definition->name][] = new ShownTurn($names[$person] ?? 'somebody who is gone', $person, $at, $until);
                }
            }
        }
        $newest = array_map(static fn(RotationDefinition $one): string => $one->name, $this->kept->definition($this->revisions->newest($id))->rotations);
        $order = array_values(array_unique([...$newest, ...array_keys($words)]));
        $there = array_filter($order, static fn(string $name): bool => isset($words[$name]));

        return array_values(
            array_map(static fn(string $name): ShownRotation => new ShownRotation($name, $words[$name] ?? '', $turns[$name] ?? []), $there),
        );
    }

    /** @return list<array{Instant, Instant, RosterRevision}> from when to when each holds in a span */
    private function holding(int $id, Instant $from, Instant $to): array
    {
        $until = $to;
        $holding = [];
        // What was made later holds from its instant on.
        foreach ($this->revisions->of($id) as $revision) {
            $begin = $revision->holdsFrom->later($from);
            if ($begin->isBefore($until)) {
                array_unshift($holding, [$begin, $until, $revision]);
                $until = $begin;
            }
        }

        return $holding;
    }

    /** @return list<array{int, Instant, Instant}> whose turn it is by one rotation, from when to when */
    private function turns(Roster $roster, int $place, Instant $from, Instant $to): array
    {
        $turns = [];
        foreach ((new Roster($roster->zone, [$roster->rotations[$place]]))->shifts($from, $to) as $shift) {
            if ($shift->person !== null) {
                $turns[] = [$shift->person, $shift->from, $shift->to];
            }
        }

        return $turns;
    }

    /** @return list<ShownCover> that touch a span and were not declined or withdrawn */
    private function coversOf(KeptRoster $roster, Instant $from, Instant $to, Person $reader): array
    {
        $touching = array_filter(
            $this->covers->notOver($from),
            static fn(KeptCover $one): bool => $one->rosterId === $roster->id()
                && $one->fromAt->isBefore($to)
                && ($one->state === CoverState::Asked || $one->state->takesPlace()),
        );

        return array_values(array_map(fn(KeptCover $one): ShownCover => $this->cover($one, $roster->name, $reader), $touching));
    }

    /** @return list<int> whom the roster names, or named */
    private function namedBy(int $id): array
    {
        $people = array_map(static fn(RosterRevision $one): array => array_values($one->people), $this->revisions->of($id));

        return array_values(array_unique(array_merge(...$people)));
    }

    /**
     * @param list<int> $people
     *
     * @return list<ShownAbsence> of these that touch a span
     */
    private function away(int $id, array $people, Instant $from, Instant $to, Person $reader): array
    {
        $touching = array_filter(
            $this->absences->notOver($from),
            static fn(KeptAbsence $one): bool => ($one->rosterId === null || $one->rosterId === $id)
                && $one->fromAt->isBefore($to)
                && in_array($one->personId, $people, true),
        );

        return array_values(array_map(fn(KeptAbsence $one): ShownAbsence => $this->absence($one, $reader), $touching));
    }

    /**
     * @param list<Shift>        $shifts
     * @param array<int, string> $names
     *
     * @return list<ShownDouble>
     */
    private function doubles(KeptRoster $roster, array $shifts, Rosters $rosters, Instant $from, Instant $to, array $names): array
    {
        $others = [];
        foreach ($rosters->names() as $name) {
            if ($name !== $roster->name) {
                $others[$name] = $rosters->named($name)?->shifts($from, $to) ?? [];
            }
        }

        return array_map(
            static fn(DoubleBooking $one): ShownDouble => new ShownDouble($names[$one->person] ?? '', $one->rosters, $one->from, $one->to),
            DoubleBooking::between($roster->name, $shifts, $others),
        );
    }

    /**
     * @param array<int, string> $names
     *
     * @return list<ShownRosterRevision>
     *
     * @throws Problem where one cannot be read any more
     */
    private function shownRevisions(int $id, array $names): array
    {
        $revisions = $this->revisions->of($id);
        $shown = [];
        foreach ($revisions as $i => $one) {
            $before = $revisions[$i + 1] ?? null;
            $called = static fn(string $address): string => $names[$one->people[$address] ?? $before->people[$address] ?? 0] ?? $address;
            $shown[] = new ShownRosterRevision(
                number: $one->number,
                at: $one->at,
                holdsFrom: $one->holdsFrom,
                author: $names[$one->authorId] ?? null,
                reason: $one->reason,
                changes: $before === null
                    ? []
                    : RosterWords::changes($this->kept->definition($before), $this->kept->definition($one), $called),
            );
        }

        return $shown;
    }

    private static function monday(int $day): int
    {
        return $day - (Handover::weekdayOf($day) - 1);
    }
}
