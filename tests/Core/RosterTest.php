<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Roster\Absence;
use Olivine\Core\Roster\Cover;
use Olivine\Core\Roster\DutyHours;
use Olivine\Core\Roster\Handover;
use Olivine\Core\Roster\Roster;
use Olivine\Core\Roster\RosterHistory;
use Olivine\Core\Roster\Rotation;
use Olivine\Core\Roster\Shift;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/** Who is on call, to the minute: cases worked out by hand, and whatever roster beside one that looks at each minute by itself. */
final class RosterTest extends TestCase
{
    private const PEOPLE = [1 => 'Ines', 2 => 'Oyelaran', 3 => 'Mei-Lin', 4 => 'Sunniva', 5 => 'Tomasz'];
    private const ZONES = ['Europe/Lisbon', 'Australia/Lord_Howe', 'America/Santiago', 'Asia/Kolkata', 'Africa/Cairo'];
    private const DAY_MS = 86_400_000;

    /** @return iterable<string, array{Roster, string, string, list<string>}> from, to on its clocks, and what is expected, each from its begin in UTC */
    public static function cases(): iterable
    {
        $weekly = static fn(string $zone): Roster => self::roster($zone, [self::rotation('days', [1, 2], '2026-03-02', Handover::weekly(1, 480))]);
        yield 'weekly, over the week in which the clocks go forward' => [$weekly('Europe/Lisbon'), '2026-03-23 08:00', '2026-04-06 08:00', [
            '03-23 08:00 Oyelaran: rotation days', '03-30 07:00 Ines: rotation days',
        ]];
        yield 'and back' => [$weekly('Europe/Lisbon'), '2026-10-19 08:00', '2026-11-02 08:00', [
            '10-19 07:00 Oyelaran: rotation days', '10-26 08:00 Ines: rotation days',
        ]];
        yield 'where the clocks go by half an hour' => [$weekly('Australia/Lord_Howe'), '2026-03-30 08:00', '2026-04-13 08:00', [
            '03-29 21:00 Ines: rotation days', '04-05 21:30 Oyelaran: rotation days',
        ]];
        yield 'where they are not set at all' => [$weekly('Asia/Kolkata'), '2026-03-23 08:00', '2026-04-06 08:00', [
            '03-23 02:30 Oyelaran: rotation days', '03-30 02:30 Ines: rotation days',
        ]];
        // Santiago sets back at 24:00 on 4 April 2026, and forward at 24:00 on 5 September.
        $daily = self::roster('America/Santiago', [self::rotation('turns', [1, 2, 3], '2026-04-01', Handover::daily(360, 1_080))]);
        yield 'twice a day, over the night that is an hour longer' => [$daily, '2026-04-04 06:00', '2026-04-05 18:00', [
            '04-04 09:00 Ines: rotation turns', '04-04 21:00 Oyelaran: rotation turns', '04-05 10:00 Mei-Lin: rotation turns',
        ]];
        $hourly = self::roster('Europe/Lisbon', [self::rotation('hours', [1, 2, 3, 4, 5], '2026-10-24', Handover::daily(...array_map(
            static fn(int $hour): int => 60 * $hour,
            range(0, 23),
        )))]);
        yield 'each hour, and the one that is there twice is one turn' => [$hourly, '2026-10-25 00:00', '2026-10-25 03:00', [
            '10-24 23:00 Tomasz: rotation hours', '10-25 00:00 Ines: rotation hours', '10-25 02:00 Oyelaran: rotation hours',
        ]];
        $early = self::roster('Europe/Lisbon', [self::rotation('early', [1, 2], '2026-03-28', Handover::daily(90))]);
        yield 'a handover in the hour that is left out is later by as much' => [$early, '2026-03-29 00:00', '2026-03-30 02:00', [
            '03-29 00:00 Ines: rotation early', '03-29 01:30 Oyelaran: rotation early', '03-30 00:30 Ines: rotation early',
        ]];
        $twice = self::roster('Europe/Lisbon', [self::rotation('early', [1, 2], '2026-10-24', Handover::daily(90))]);
        yield 'one in the hour that is there twice is at the first of them' => [$twice, '2026-10-25 00:00', '2026-10-26 00:00', [
            '10-24 23:00 Ines: rotation early', '10-25 00:30 Oyelaran: rotation early',
        ]];
        $fourth = self::roster('UTC', [self::rotation('nights', [1, 2, 3], '2028-02-26', Handover::every(2, 1_320))]);
        yield 'every two days over the leap day' => [$fourth, '2028-02-26 00:00', '2028-03-03 22:00', [
            '02-26 00:00 nobody: no rotation has hours then', '02-26 22:00 Ines: rotation nights', '02-28 22:00 Oyelaran: rotation nights',
            '03-01 22:00 Mei-Lin: rotation nights',
        ]];
        $years = self::roster('Europe/Lisbon', [self::rotation('weeks', [1, 2], '2026-12-21', Handover::weekly(4, 1_080))]);
        yield 'over the end of the year' => [$years, '2026-12-24 18:00', '2027-01-08 00:00', [
            '12-24 18:00 Ines: rotation weeks', '12-31 18:00 Oyelaran: rotation weeks', '01-07 18:00 Ines: rotation weeks',
        ]];
        [$days, $nights] = self::piers()->rotations;
        yield 'nights go before days' => [self::roster('Europe/Lisbon', [$days, $nights]), '2026-11-27 12:00', '2026-11-28 12:00', [
            '11-27 12:00 Ines: rotation days', '11-27 22:00 Sunniva: rotation nights', '11-28 06:00 Ines: rotation days',
        ]];
        yield 'nights alone leave the days open' => [self::roster('Europe/Lisbon', [$nights]), '2026-11-27 12:00', '2026-11-28 12:00', [
            '11-27 12:00 nobody: no rotation has hours then', '11-27 22:00 Sunniva: rotation nights', '11-28 06:00 nobody: no rotation has hours then',
        ]];
        $weekend = self::rotation('weekend', [3, 4], '2026-11-23', Handover::weekly(5, 1_080), new DutyHours(1_320, 360, [5, 6]));
        yield 'of hours over midnight the day on which they begin counts' => [self::roster('UTC', [$weekend]), '2026-11-27 00:00', '2026-11-30 00:00', [
            '11-27 00:00 nobody: no rotation has hours then', '11-27 22:00 Mei-Lin: rotation weekend', '11-28 06:00 nobody: no rotation has hours then',
            '11-28 22:00 Mei-Lin: rotation weekend', '11-29 06:00 nobody: no rotation has hours then',
        ]];
        $cover = static fn(int $by, int $for, string $from, string $to): Cover => new Cover($by, $for, self::on($from), self::on($to));
        $away = static fn(int $who, string $from, string $to): Absence => new Absence($who, self::on($from), self::on($to));
        yield 'a cover over a handover holds only for whom it is' => [
            self::piers([$cover(5, 1, '2026-11-30 07:00', '2026-11-30 09:00')]), '2026-11-30 06:30', '2026-11-30 10:00', [
                '11-30 06:30 Ines: rotation days', '11-30 07:00 Tomasz: rotation days, covers for Ines', '11-30 08:00 Oyelaran: rotation days',
            ],
        ];
        yield 'and changes nothing where somebody else is on call' => [
            self::piers([$cover(5, 2, '2026-11-28 07:00', '2026-11-28 09:00')]), '2026-11-28 07:00', '2026-11-28 09:00', ['11-28 07:00 Ines: rotation days'],
        ];
        yield 'of two covers the later made one wins' => [
            self::piers([$cover(5, 1, '2026-11-28 07:00', '2026-11-28 12:00'), $cover(2, 1, '2026-11-28 09:00', '2026-11-28 10:00')]),
            '2026-11-28 08:00', '2026-11-28 11:00', [
                '11-28 08:00 Tomasz: rotation days, covers for Ines', '11-28 09:00 Oyelaran: rotation days, covers for Ines',
                '11-28 10:00 Tomasz: rotation days, covers for Ines',
            ],
        ];
        yield 'a cover by somebody who is away does not take place, and the one before holds' => [
            self::piers(
                [$cover(5, 1, '2026-11-28 07:00', '2026-11-28 12:00'), $cover(2, 1, '2026-11-28 08:00', '2026-11-28 12:00')],
                [$away(2, '2026-11-28 09:00', '2026-11-28 10:00')],
            ),
            '2026-11-28 08:00', '2026-11-28 11:00', [
                '11-28 08:00 Oyelaran: rotation days, covers for Ines', '11-28 09:00 Tomasz: rotation days, covers for Ines',
                '11-28 10:00 Oyelaran: rotation days, covers for Ines',
            ],
        ];
        yield 'covers do not chain' => [
            self::piers([$cover(5, 1, '2026-11-28 07:00', '2026-11-28 12:00'), $cover(2, 5, '2026-11-28 07:00', '2026-11-28 12:00')]),
            '2026-11-28 08:00', '2026-11-28 09:00', ['11-28 08:00 Tomasz: rotation days, covers for Ines'],
        ];
        yield 'an absence without a cover is a gap in the lowest rotation' => [
            self::piers([], [$away(2, '2026-12-02 08:00', '2026-12-05 08:00')]), '2026-12-02 07:00', '2026-12-03 07:00', [
                '12-02 07:00 Oyelaran: rotation days', '12-02 08:00 nobody: Oyelaran is away', '12-02 22:00 Tomasz: rotation nights',
                '12-03 06:00 nobody: Oyelaran is away',
            ],
        ];
        yield 'in an upper one the lower one has somebody' => [
            self::piers([], [$away(4, '2026-11-28 00:00', '2026-11-28 03:00')]), '2026-11-27 22:00', '2026-11-28 06:00', [
                '11-27 22:00 Sunniva: rotation nights', '11-28 00:00 Ines: rotation days', '11-28 03:00 Sunniva: rotation nights',
            ],
        ];
        yield 'and a cover in the lower one takes place there' => [
            self::piers([$cover(5, 1, '2026-11-28 01:00', '2026-11-28 02:00')], [$away(4, '2026-11-28 00:00', '2026-11-28 03:00')]),
            '2026-11-28 00:00', '2026-11-28 03:00', [
                '11-28 00:00 Ines: rotation days', '11-28 01:00 Tomasz: rotation days, covers for Ines', '11-28 02:00 Ines: rotation days',
            ],
        ];
        yield 'both away' => [
            self::piers([], [$away(4, '2026-11-28 00:00', '2026-11-28 03:00'), $away(1, '2026-11-28 00:00', '2026-11-28 03:00')]),
            '2026-11-28 00:00', '2026-11-28 03:00', ['11-28 00:00 nobody: Sunniva and Ines are away'],
        ];
        yield 'no rotation at all' => [self::roster('UTC', []), '2026-11-28 00:00', '2026-11-29 00:00', ['11-28 00:00 nobody: no rotation has hours then']];
    }

    /**
     * Days by the week, and above them nights by four.
     *
     * @param list<Cover>   $covers
     * @param list<Absence> $absences
     */
    private static function piers(array $covers = [], array $absences = []): Roster
    {
        $days = self::rotation('days', [1, 2], '2026-11-23', Handover::weekly(1, 480));
        $nights = self::rotation('nights', [3, 4, 5], '2026-11-23', Handover::every(4, 1_320), new DutyHours(1_320, 360));

        return self::roster('Europe/Lisbon', [$days, $nights], $covers, $absences);
    }

    /** @param list<string> $expected */
    #[DataProvider('cases')]
    public function testWhoIsOnCall(Roster $roster, string $from, string $to, array $expected): void
    {
        $zone = $roster->zone;
        $shifts = $roster->shifts(Instant::of(new \DateTimeImmutable($from, $zone)), Instant::of(new \DateTimeImmutable($to, $zone)));
        self::assertSame($expected, array_map(static fn(Shift $one): string => gmdate('m-d H:i ', intdiv($one->from->ms, 1000)) . self::said($one), $shifts));
    }

    /** Around clock changes of five zones, with hours, covers and absences at random: as one that looks at each quarter of an hour by itself. */
    public function testItIsAsOneThatLooksAtEachInstantByItself(): void
    {
        $random = new Randomizer(new Mt19937(13));
        for ($round = 0; $round < 60; ++$round) {
            $zone = new \DateTimeZone(self::ZONES[$round % count(self::ZONES)]);
            $begin = ['2026-03-20', '2026-10-17', '2026-04-18', '2026-08-30', '2028-02-25', '2026-12-26'][$random->getInt(0, 5)];
            $roster = self::some($random, $zone, $begin);
            $from = Instant::of(new \DateTimeImmutable("{$begin} 00:00", $zone))->plus(Duration::ofMinutes(15 * $random->getInt(0, 400)));
            $to = $from->plus(Duration::ofHours($random->getInt(1, 24 * 12)));
            $shifts = $roster->shifts($from, $to);
            self::assertPromise($shifts, $from, $to);
            $place = 0;
            for ($at = $from; $at->isBefore($to); $at = $at->plus(Duration::ofMinutes(15))) {
                while (!$shifts[$place]->to->isAfter($at)) {
                    ++$place;
                }
                $is = $shifts[$place];
                self::assertSame(
                    self::looked($roster, $at),
                    [$is->person, $is->rotation, $is->for],
                    "round {$round} at {$at->in($zone)->format(DATE_ATOM)}",
                );
            }
            $inParts = [];
            for ($day = $from; $day->isBefore($to); $day = $next) {
                $next = $day->plus(Duration::ofMs($random->getInt(1, self::DAY_MS)))->earlier($to);
                array_push($inParts, ...$roster->shifts($day, $next));
            }
            self::assertSame(self::plain($shifts), self::plain(self::joined($inParts)), 'asked day by day or at once');
        }
    }

    /** Whatever comes into effect later: what was before, and who is on call until then, stays as it was. */
    public function testTheFutureDoesNotChangeThePast(): void
    {
        $random = new Randomizer(new Mt19937(14));
        for ($round = 0; $round < 60; ++$round) {
            $zone = new \DateTimeZone(self::ZONES[$round % count(self::ZONES)]);
            [$former, $later] = [self::some($random, $zone, '2026-03-20'), self::some($random, $zone, '2026-03-20')];
            $from = Instant::of(new \DateTimeImmutable('2026-03-21 00:00', $zone));
            $turn = $from->plus(Duration::ofMinutes($random->getInt(0, 20_000)));
            $to = $from->plus(Duration::ofDays(14));
            $history = RosterHistory::of([[Instant::ofMs(0), $former], [$turn, $later]]);
            $shifts = $history->shifts($from, $to);
            self::assertPromise($shifts, $from, $to);
            self::assertSame(self::plain(RosterHistory::always($former)->shifts($from, $turn)), self::plain($history->shifts($from, $turn)));
            self::assertSame(self::plain(RosterHistory::always($later)->shifts($turn, $to)), self::plain($history->shifts($turn, $to)));
            $at = $from->plus(Duration::ofMinutes($random->getInt(0, 20_000)));
            $holding = $at->isBefore($turn) ? $former : $later;
            self::assertSame($holding->shifts($at, $at->plus(Duration::ofMs(1)))[0]->person, $history->at($at)->person);
        }
    }

    public function testNextIsTheNextOneWhoIsSomebodyElse(): void
    {
        $lisbon = new \DateTimeZone('Europe/Lisbon');
        $at = Instant::of(new \DateTimeImmutable('2026-11-27 12:00', $lisbon));
        $days = self::rotation('days', [1, 2], '2026-11-23', Handover::weekly(1, 480));
        $long = self::rotation('long', [1, 2], '2026-11-01', Handover::every(60, 480));
        self::assertSame(2, RosterHistory::always(self::roster('Europe/Lisbon', [$days]))->next($at));
        self::assertSame(2, RosterHistory::always(self::roster('Europe/Lisbon', [$long]))->next($at), 'weeks ahead');
        self::assertNull(RosterHistory::always(self::roster('Europe/Lisbon', [self::rotation('one', [1], '2026-11-23', Handover::daily(480))]))->next($at));
        $notYet = RosterHistory::of([[$at->plus(Duration::ofDays(1)), self::roster('Europe/Lisbon', [$days])]]);
        self::assertNull($notYet->at($at)->person, 'before the first revision there is nobody');
        self::assertSame(1, $notYet->next($at));
    }

    /** Beside PHP's own calendar, in any order of days. */
    public function testATimeOfADayIsTheInstantThatTheCalendarSays(): void
    {
        $random = new Randomizer(new Mt19937(15));
        foreach ([...self::ZONES, 'America/St_Johns', 'UTC', '+05:30', 'Pacific/Apia'] as $name) {
            $zone = new \DateTimeZone($name);
            $wall = new WallTimes($zone);
            for ($i = 0; $i < 600; ++$i) {
                $day = WallTimes::day('2026-01-01') + $random->getInt(-1_500, 1_500);
                $minute = $random->getInt(0, 5) === 0 ? $random->getInt(0, 240) : $random->getInt(0, 1_439);
                $date = new \DateTimeImmutable(gmdate('Y-m-d', 86_400 * $day), $zone);
                $expected = $date->setTime(intdiv($minute, 60), $minute % 60)->getTimestamp() * 1000;
                self::assertSame($expected, $wall->at($day, $minute), "{$name} {$date->format('Y-m-d')} {$minute}");
            }
        }
    }

    /** @param list<Shift> $shifts */
    private static function assertPromise(array $shifts, Instant $from, Instant $to): void
    {
        self::assertSame([$from->ms, $to->ms], [$shifts[0]->from->ms, $shifts[count($shifts) - 1]->to->ms]);
        foreach ($shifts as $i => $shift) {
            self::assertTrue($shift->from->isBefore($shift->to));
            if ($i > 0) {
                self::assertSame($shifts[$i - 1]->to->ms, $shift->from->ms, 'no minute twice, none left out');
                self::assertFalse($shifts[$i - 1]->isAs($shift), 'maximal');
            }
        }
    }

    /** @return array{int|null, string|null, int|null} person, rotation, and in whose place, by the calendar alone */
    private static function looked(Roster $roster, Instant $at): array
    {
        $isAway = static fn(int $who): bool => array_any(
            $roster->absences,
            static fn(Absence $one): bool => $one->person === $who && $one->from->ms <= $at->ms && $at->ms < $one->to->ms,
        );
        foreach (array_reverse($roster->rotations) as $rotation) {
            $person = self::named($rotation, $roster->zone, $at);
            if ($person === null) {
                continue;
            }
            foreach (array_reverse($roster->covers) as $cover) {
                if ($cover->for === $person && $cover->from->ms <= $at->ms && $at->ms < $cover->to->ms && !$isAway($cover->person)) {
                    return [$cover->person, $rotation->name, $person];
                }
            }
            if (!$isAway($person)) {
                return [$person, $rotation->name, null];
            }
        }

        return [null, null, null];
    }

    private static function named(Rotation $rotation, \DateTimeZone $zone, Instant $at): ?int
    {
        $midnight = new \DateTimeImmutable(gmdate('Y-m-d', 86_400 * $rotation->fromDay), $zone);
        $turn = -1;
        for ($day = 0; $day < 60; ++$day) {
            $date = $midnight->modify("+{$day} days");
            $since = $rotation->handover->weekday === null ? $day % $rotation->handover->everyDays : (int) $date->format('N') - $rotation->handover->weekday;
            foreach ($since === 0 ? $rotation->handover->minutes : [] as $minute) {
                $turn += (int) ($date->setTime(intdiv($minute, 60), $minute % 60)->getTimestamp() * 1000 <= $at->ms);
            }
        }
        if ($turn < 0) {
            return null;
        }
        $hours = $rotation->hours;
        $isOn = $hours === null;
        for ($day = -2; $hours !== null && $day < 62; ++$day) {
            $date = $midnight->modify("{$day} days");
            if ($hours->days !== [] && !in_array((int) $date->format('N'), $hours->days, true)) {
                continue;
            }
            $begin = $date->setTime(intdiv($hours->from, 60), $hours->from % 60);
            $last = $hours->to <= $hours->from ? $date->modify('+1 day') : $date;
            $end = $last->setTime(intdiv($hours->to, 60), $hours->to % 60);
            $isOn = $isOn || ($begin->getTimestamp() * 1000 <= $at->ms && $at->ms < $end->getTimestamp() * 1000);
        }

        return $isOn ? $rotation->people[$turn % count($rotation->people)] : null;
    }

    /** Up to three rotations, covers and absences of all kinds, within the days after. */
    private static function some(Randomizer $random, \DateTimeZone $zone, string $begin): Roster
    {
        $at = static fn(): Instant => Instant::of(new \DateTimeImmutable($begin, $zone))->plus(Duration::ofMinutes(15 * $random->getInt(0, 1_600)));
        $person = static fn(): int => $random->getInt(1, 5);
        $minute = static fn(): int => 15 * ($random->getInt(0, 1) === 0 ? $random->getInt(0, 12) : $random->getInt(0, 95));
        $rotations = [];
        for ($i = $random->getInt(1, 3); $i > 0; --$i) {
            $handover = match ($random->getInt(0, 3)) {
                0 => Handover::weekly(max(1, $random->getInt(1, 7)), $minute()),
                1 => Handover::every(max(1, $random->getInt(1, 5)), $minute()),
                2 => Handover::daily($minute()),
                default => Handover::daily($minute(), $minute(), $minute()),
            };
            $days = $random->getInt(0, 1) === 0 ? [] : array_slice($random->shuffleArray(range(1, 7)), 0, $random->getInt(1, 4));
            $hours = $random->getInt(0, 1) === 0 ? null : new DutyHours($minute(), $minute(), $days);
            $people = array_map($person, range(1, $random->getInt(1, 4)));
            $fromDay = WallTimes::day($begin) + $random->getInt(0, 6);
            $rotations[] = new Rotation("rotation {$i}", $people, $fromDay, $handover, $hours);
        }
        $span = static function (callable $make) use ($at, $random): array {
            $all = [];
            for ($i = $random->getInt(0, 4); $i > 0; --$i) {
                [$a, $b] = [$at(), $at()];
                $all[] = $make($a->earlier($b), $a->later($b)->plus(Duration::ofMinutes(15)));
            }

            return $all;
        };

        return new Roster(
            $zone,
            $rotations,
            $span(static fn(Instant $from, Instant $to): Cover => new Cover($person(), $person(), $from, $to)),
            $span(static fn(Instant $from, Instant $to): Absence => new Absence($person(), $from, $to)),
        );
    }

    /**
     * @param list<Shift> $shifts
     *
     * @return list<Shift> what is the same and goes on made one
     */
    private static function joined(array $shifts): array
    {
        $joined = [];
        foreach ($shifts as $shift) {
            $last = end($joined);
            if ($last !== false && $last->isAs($shift)) {
                array_pop($joined);
                $shift = $last->through($shift->to);
            }
            $joined[] = $shift;
        }

        return $joined;
    }

    /**
     * @param list<Shift> $shifts
     *
     * @return list<string>
     */
    private static function plain(array $shifts): array
    {
        return array_map(static fn(Shift $one): string => "{$one->from->ms} {$one->to->ms} " . self::said($one), $shifts);
    }

    private static function said(Shift $one): string
    {
        $name = static fn(int $person): string => self::PEOPLE[$person];
        $who = $one->person === null ? '' : "{$name($one->person)}: ";

        return $who . $one->because($name);
    }

    /**
     * @param list<Rotation> $rotations
     * @param list<Cover>    $covers
     * @param list<Absence>  $absences
     */
    private static function roster(string $zone, array $rotations, array $covers = [], array $absences = []): Roster
    {
        return new Roster(new \DateTimeZone($zone), $rotations, $covers, $absences);
    }

    /** @param non-empty-list<int> $people */
    private static function rotation(string $name, array $people, string $from, Handover $handover, ?DutyHours $hours = null): Rotation
    {
        return new Rotation($name, $people, WallTimes::day($from), $handover, $hours);
    }

    private static function on(string $lisbon): Instant
    {
        return Instant::of(new \DateTimeImmutable($lisbon, new \DateTimeZone('Europe/Lisbon')));
    }
}
