<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WeekHours;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/** Hours of a week over clock changes of both hemispheres; the instants were read off the tables of the zones by hand. */
final class WeekHoursTest extends TestCase
{
    private const WORKDAYS = [1, 2, 3, 4, 5];
    private const ALL = [1, 2, 3, 4, 5, 6, 7];

    /** @return iterable<string, array{WeekHours, string, bool}> */
    public static function instants(): iterable
    {
        $office = self::hours('Europe/Lisbon', [[self::WORKDAYS, 480, 1_080]]);
        yield 'the first minute' => [$office, '2026-11-27 08:00:00', true];
        yield 'just before it' => [$office, '2026-11-27 07:59:59.999', false];
        yield 'the last moment' => [$office, '2026-11-27 17:59:59.999', true];
        yield 'the end is not of it' => [$office, '2026-11-27 18:00:00', false];
        yield 'a Saturday' => [$office, '2026-11-28 12:00:00', false];
        yield 'in summer the clocks are an hour ahead' => [$office, '2026-07-01 07:00:00', true];
        yield 'and end an hour earlier by UTC' => [$office, '2026-07-01 17:00:00', false];
        $holiday = new WeekHours([[self::WORKDAYS, 480, 1_080]], new \DateTimeZone('Europe/Lisbon'), ['2026-12-25']);
        yield 'a day off' => [$holiday, '2026-12-25 12:00:00', false];
        yield 'the day before it' => [$holiday, '2026-12-24 12:00:00', true];

        $nights = self::hours('Europe/Lisbon', [[[5], 1_320, 360]]);
        yield 'a night belongs to the day it begins on' => [$nights, '2026-11-28 05:59:00', true];
        yield 'so Friday before six is of no night' => [$nights, '2026-11-27 05:00:00', false];
        $nightOff = new WeekHours([[self::ALL, 1_320, 360]], new \DateTimeZone('UTC'), ['2026-11-27']);
        yield 'the night that begins on a day off' => [$nightOff, '2026-11-28 02:00:00', false];
        yield 'the one that ends on it' => [$nightOff, '2026-11-27 02:00:00', true];
        $everyYear = new WeekHours([[self::ALL, 1_320, 360]], new \DateTimeZone('Europe/Lisbon'), ['12-25', '02-29']);
        yield 'Christmas of one year' => [$everyYear, '2026-12-25 22:00:00', false];
        yield 'and of the next, with the hours after midnight' => [$everyYear, '2027-12-26 05:59:00', false];
        yield 'the night before it goes on into it' => [$everyYear, '2027-12-25 05:59:00', true];
        yield 'the day after it begins as ever' => [$everyYear, '2027-12-26 22:00:00', true];
        yield 'the day that is there each fourth year' => [$everyYear, '2028-02-29 23:00:00', false];
        yield 'and no other in its stead' => [$everyYear, '2027-03-01 23:00:00', true];
        $whole = self::hours('UTC', [[[6], 0, 1_440]]);
        yield 'to 24:00' => [$whole, '2026-11-28 23:59:59', true];
        yield 'and not beyond' => [$whole, '2026-11-29 00:00:00', false];

        // Berlin leaves out 02:00 to 03:00 on 29 March 2026 (01:00 UTC), and shows it twice on 25 October.
        $early = self::hours('Europe/Berlin', [[self::ALL, 150, 240]]);
        yield 'a begin that is left out: 03:30 is an hour after 01:30' => [$early, '2026-03-29 01:29:59', false];
        yield 'from 03:30 on' => [$early, '2026-03-29 01:30:00', true];
        yield 'a begin that is there twice is the first' => [$early, '2026-10-25 00:30:00', true];
        yield 'and it goes on over the second' => [$early, '2026-10-25 01:45:00', true];
        yield 'to the end, once' => [$early, '2026-10-25 03:00:00', false];
        $gap = self::hours('Europe/Berlin', [[self::ALL, 120, 180]]);
        yield 'hours that are left out altogether' => [$gap, '2026-03-29 01:10:00', false];
        // Sydney shows 02:00 to 03:00 twice on 5 April 2026 (16:00 UTC on the 4th), and leaves it out on 4 October (16:00 UTC on the 3rd).
        $sydney = self::hours('Australia/Sydney', [[self::ALL, 150, 240]]);
        yield 'south: the first 02:30' => [$sydney, '2026-04-04 15:30:00', true];
        yield 'south: the second 02:10' => [$sydney, '2026-04-04 16:10:00', true];
        yield 'south: 02:30 is left out' => [$sydney, '2026-10-03 16:29:00', false];
        yield 'south: from 03:30 on' => [$sydney, '2026-10-03 16:30:00', true];
        // Lord Howe moves by half an hour.
        $half = self::hours('Australia/Lord_Howe', [[self::ALL, 135, 180]]);
        yield 'half an hour left out: 02:15 is 02:45' => [$half, '2026-10-03 15:44:00', false];
        yield 'from 02:45 on' => [$half, '2026-10-03 15:45:00', true];
    }

    #[DataProvider('instants')]
    public function testCovers(WeekHours $hours, string $utc, bool $covers): void
    {
        $at = Instant::of(new \DateTimeImmutable("{$utc} UTC"));
        self::assertSame($covers, $hours->covers($at));
    }

    public function testASpanIsOneAndItsLengthIsAsTimeWentBy(): void
    {
        $day = self::hours('Europe/Lisbon', [[self::ALL, 0, 1_440]]);
        $from = Instant::of(new \DateTimeImmutable('2026-03-20 00:00 UTC'));
        $spans = $day->between($from, $from->plus(Duration::ofDays(14)));
        self::assertCount(1, $spans, 'day after day without a gap, over the change too');
        self::assertSame(Duration::ofDays(14)->ms, $spans[0][1]->since($spans[0][0])->ms);
        $office = self::hours('Europe/Lisbon', [[self::WORKDAYS, 480, 720], [self::WORKDAYS, 720, 1_080], [[3], 600, 660]]);
        $week = $office->between($from->plus(Duration::ofDays(3)), $from->plus(Duration::ofDays(10)));
        self::assertCount(5, $week, 'what touches or overlaps is one');
        self::assertSame([], $office->between($from->plus(Duration::ofDays(1)), $from->plus(Duration::ofDays(2))));
    }

    /** Whatever the hours, the zone and the time of the year: what is covered is what lies within the spans. */
    public function testWhatIsCoveredLiesWithinTheSpans(): void
    {
        $random = new Randomizer(new Mt19937(28));
        $zones = ['Europe/Lisbon', 'Australia/Sydney', 'Asia/Kathmandu', 'America/St_Johns', 'Australia/Lord_Howe', 'UTC'];
        for ($round = 0; $round < 250; ++$round) {
            $stretches = [];
            for ($i = $random->getInt(1, 3); $i > 0; --$i) {
                $days = array_values(array_filter(self::ALL, static fn(): bool => $random->getInt(0, 1) === 1));
                $stretches[] = [$days === [] ? [1] : $days, 15 * $random->getInt(0, 95), 15 * $random->getInt(0, 96)];
            }
            $hours = self::hours($zones[$round % 6], $stretches);
            $from = Instant::ofMs(1_767_225_600_000 + 1_000 * $random->getInt(0, 365 * 86_400));
            $to = $from->plus(Duration::ofDays(9));
            $spans = $hours->between($from, $to);
            foreach (range(1, 40) as $_) {
                $at = $from->plus(Duration::ofMs($random->getInt(0, 9 * 86_400_000 - 1)));
                $isWithin = array_any($spans, static fn(array $one): bool => !$one[0]->isAfter($at) && $one[1]->isAfter($at));
                self::assertSame($isWithin, $hours->covers($at), "round {$round} at {$at->ms}: {$hours->words()}");
            }
            foreach (array_slice($spans, 1) as $i => $span) {
                self::assertTrue($span[0]->isAfter($spans[$i][1]), 'spans are apart');
            }
        }
    }

    public function testSaysItsHours(): void
    {
        $hours = self::hours('Europe/Lisbon', [[self::WORKDAYS, 480, 1_080], [[6], 540, 780], [[1, 3, 4, 7], 1_320, 360], [[7], 0, 1_440]]);
        self::assertSame('mon-fri 08:00-18:00, sat 09:00-13:00, mon+wed-thu+sun 22:00-06:00, sun 00:00-24:00 Europe/Lisbon', $hours->words());
    }

    /** @param list<array{non-empty-list<int>, int, int}> $stretches */
    private static function hours(string $zone, array $stretches): WeekHours
    {
        return new WeekHours($stretches, new \DateTimeZone($zone));
    }
}
