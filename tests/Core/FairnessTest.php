<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Roster\Burden;
use Olivine\Core\Roster\DoubleBooking;
use Olivine\Core\Roster\DutyHours;
use Olivine\Core\Roster\Fairness;
use Olivine\Core\Roster\FairShare;
use Olivine\Core\Roster\Handover;
use Olivine\Core\Roster\Roster;
use Olivine\Core\Roster\RosterHistory;
use Olivine\Core\Roster\Rotation;
use Olivine\Core\Roster\Shift;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;
use PHPUnit\Framework\TestCase;

/** What people carried of a roster, counted by hand. */
final class FairnessTest extends TestCase
{
    private const ZONE = 'Europe/Lisbon';
    private const INES = 1;
    private const OYELARAN = 2;
    private const TOMASZ = 3;

    /** Two weeks from Monday 23 November: Ines the first, Oyelaran the second, Tomasz each night but for the last two. */
    public function testHoursNightsWeekendsAndHolidaysByHand(): void
    {
        $zone = new \DateTimeZone(self::ZONE);
        $days = new Rotation('days', [self::INES, self::OYELARAN], WallTimes::day('2026-11-23'), Handover::weekly(1, 0));
        $nights = new Rotation('nights', [self::TOMASZ], WallTimes::day('2026-11-23'), Handover::daily(1_320), new DutyHours(1_320, 360));
        $shifts = [
            ...(new Roster($zone, [$days, $nights]))->shifts(self::at('2026-11-23 00:00'), self::at('2026-12-05 12:00')),
            ...(new Roster($zone, [$days]))->shifts(self::at('2026-12-05 12:00'), self::at('2026-12-07 00:00')),
        ];
        $wakings = [
            [self::TOMASZ, self::at('2026-11-24 03:12')], [self::TOMASZ, self::at('2026-11-24 22:00')],
            [self::TOMASZ, self::at('2026-11-24 21:59')], [self::INES, self::at('2026-11-24 06:00')],
        ];
        $fairness = Fairness::of($shifts, [self::INES, self::OYELARAN, self::TOMASZ], $zone, ['2026-12-01', '12-08'], $wakings);
        $shares = [];
        foreach ($fairness->shares as $one) {
            $shares[$one->person] = [$one->hours, $one->nights, $one->weekends, $one->holidays, $one->wakings];
        }
        // 12 nights of Tomasz begin on 23 November to 4 December; that of the 22nd is none of these two weeks.
        self::assertSame([96.0, 12, 0, 0, 2], $shares[self::TOMASZ]);
        self::assertSame([168.0 - 7 * 8 + 6, 0, 2, 0, 0], $shares[self::INES], 'six hours of Monday before the first night, and its evening');
        // Of the night of the 6th two hours are in the span: it is nobody's.
        self::assertSame([14 * 24.0 - 96 - (168 - 7 * 8 + 6), 1, 2, 1, 0], $shares[self::OYELARAN]);
        [$what, $share, $times] = $fairness->unevenness() ?? self::fail();
        self::assertSame([Burden::Nights, self::TOMASZ], [$what, $share->person]);
        self::assertEqualsWithDelta(12 / 6.5, $times, 1e-9, 'of those who take nights at all');
    }

    /** Half a day each, at six: whoever has Saturday from six to six had half of it, and that is a weekend day. */
    public function testWhoeverHasHalfADayHadIt(): void
    {
        $zone = new \DateTimeZone(self::ZONE);
        $turns = new Rotation('turns', [self::INES, self::TOMASZ, self::OYELARAN], WallTimes::day('2026-11-23'), Handover::daily(360, 1_080));
        $shifts = (new Roster($zone, [$turns]))->shifts(self::at('2026-11-24 06:00'), self::at('2026-11-30 00:00'));
        $weekends = [];
        foreach (Fairness::of($shifts, [], $zone)->shares as $one) {
            $weekends[$one->person] = $one->weekends;
        }
        ksort($weekends);
        // Ten turns before Saturday at six: Tomasz's; twelve before Sunday at six: Ines's.
        self::assertSame([self::INES => 1, self::OYELARAN => 0, self::TOMASZ => 1], $weekends);
    }

    /** A night in which the clocks go back is nine hours long, and counts once. */
    public function testANightOfAClockChangeIsOneNight(): void
    {
        $zone = new \DateTimeZone(self::ZONE);
        $nights = new Rotation('nights', [self::TOMASZ], WallTimes::day('2026-10-20'), Handover::daily(1_320), new DutyHours(1_320, 360));
        $shifts = (new Roster($zone, [$nights]))->shifts(self::at('2026-10-24 12:00'), self::at('2026-10-26 12:00'));
        $share = Fairness::of($shifts, [self::TOMASZ], $zone)->shares[0];
        self::assertSame([17.0, 2], [$share->hours, $share->nights]);
        self::assertSame(8.0, $share->of(Burden::Hours) - 9.0);
        self::assertNull(Fairness::of($shifts, [self::TOMASZ], $zone)->unevenness(), 'one person shares with nobody');
        self::assertSame([], Fairness::of([], [], $zone)->shares);
    }

    /** Property: all hours of all people are the hours in which anybody is on call, whatever the roster. */
    public function testNoHourIsLostOrCountedTwice(): void
    {
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 5));
        for ($round = 0; $round < 40; ++$round) {
            $zone = new \DateTimeZone(['Europe/Lisbon', 'Australia/Lord_Howe', 'America/Santiago', 'Asia/Kolkata'][$round % 4]);
            $people = $round % 3 === 0 ? [1] : ($round % 3 === 1 ? [1, 2] : [1, 2, 3, 4]);
            $hours = mt_rand(0, 1) === 1 ? new DutyHours(mt_rand(0, 1_439), mt_rand(0, 1_439)) : null;
            $handover = mt_rand(0, 1) === 1 ? Handover::daily(mt_rand(0, 1_439)) : Handover::weekly(mt_rand(1, 7), mt_rand(0, 1_439));
            $roster = new Roster($zone, [new Rotation('some', $people, WallTimes::day('2026-03-01'), $handover, $hours)]);
            $from = Instant::of(new \DateTimeImmutable('2026-03-10 05:00', $zone));
            $shifts = $roster->shifts($from, $from->plus(Duration::ofDays(mt_rand(1, 60))));
            $fairness = Fairness::of($shifts, $people, $zone);
            $sum = array_sum(array_map(static fn(FairShare $one): float => $one->hours, $fairness->shares));
            $there = array_sum(array_map(static fn(Shift $one): int => $one->isGap() ? 0 : $one->to->since($one->from)->ms, $shifts));
            self::assertEqualsWithDelta($there / 3_600_000, $sum, 1e-6);
            self::assertLessThanOrEqual(62, array_sum(array_map(static fn(FairShare $one): int => $one->nights, $fairness->shares)));
        }
    }

    public function testWhoIsOnCallTwiceAtOnce(): void
    {
        $zone = new \DateTimeZone(self::ZONE);
        $of = static function (Handover $change, int $first, int ...$others) use ($zone): array {
            $rotation = new Rotation('some', [$first, ...array_values($others)], WallTimes::day('2026-11-23'), $change);

            return (new Roster($zone, [$rotation]))->shifts(self::at('2026-11-23 08:00'), self::at('2026-11-25 08:00'));
        };
        $piers = $of(Handover::daily(480), self::INES, self::OYELARAN);
        $found = DoubleBooking::between('piers', $piers, ['web' => $of(Handover::daily(480, 1_200), self::OYELARAN, self::INES)]);
        $words = array_map(
            static fn(DoubleBooking $one): string => "{$one->person} " . $one->from->in($zone)->format('D H:i') . '-' . $one->to->in($zone)->format('D H:i'),
            $found,
        );
        self::assertSame(['1 Mon 20:00-Tue 08:00', '2 Tue 08:00-Tue 20:00'], $words);
        self::assertSame(['piers', 'web'], $found[0]->rosters);
        self::assertSame([], DoubleBooking::between('piers', $piers, ['other' => $of(Handover::daily(0), self::TOMASZ)]));
    }

    /** What was made later holds from its instant on, also where something made before was to begin after that. */
    public function testALaterRevisionOvertakesOneThatHasNotBegun(): void
    {
        $of = static fn(int $person): Roster => new Roster(
            new \DateTimeZone('UTC'),
            [new Rotation('one', [$person], WallTimes::day('2026-11-01'), Handover::daily(0))],
        );
        $history = RosterHistory::of([
            [self::at('2026-11-10 00:00'), $of(1)],
            [self::at('2026-12-10 00:00'), $of(2)],
            [self::at('2026-12-01 00:00'), $of(3)],
        ]);
        $days = ['2026-11-09', '2026-11-10', '2026-11-30', '2026-12-01', '2026-12-20'];
        $who = array_map(static fn(string $at): ?int => $history->at(self::at($at))->person, $days);
        self::assertSame([null, 1, 1, 3, 3], $who);
    }

    private static function at(string $local): Instant
    {
        return Instant::of(new \DateTimeImmutable($local, new \DateTimeZone(self::ZONE)));
    }
}
