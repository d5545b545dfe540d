<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Delivery\Gather;
use Olivine\Core\Time\DailyTimes;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Set times of the day, on clocks that are set forward and back, north and south, and at midnight. */
final class DailyTimesTest extends TestCase
{
    private const MINUTE_MS = 60_000;

    /** @return iterable<string, array{string, non-empty-list<string>, string, string}> zone, times, opened at (UTC), told at (UTC) */
    public static function rounds(): iterable
    {
        yield 'the next of two' => ['Europe/Lisbon', ['09:00', '17:00'], '2026-11-27 03:12', '2026-11-27 09:00'];
        yield 'in whatever order they are written' => ['Europe/Lisbon', ['17:00', '09:00'], '2026-11-27 03:12', '2026-11-27 09:00'];
        yield 'on the minute it is now' => ['Europe/Lisbon', ['09:00'], '2026-11-27 09:00', '2026-11-27 09:00'];
        yield 'a minute later it is tomorrow' => ['Europe/Lisbon', ['09:00'], '2026-11-27 09:01', '2026-11-28 09:00'];
        yield 'in summer the clocks are an hour ahead' => ['Europe/Lisbon', ['09:00'], '2026-07-01 03:12', '2026-07-01 08:00'];
        yield 'over the night that is an hour longer' => ['Europe/Lisbon', ['09:00'], '2026-10-24 09:00', '2026-10-25 09:00'];
        yield 'a time that is shown twice is the first' => ['Europe/Lisbon', ['01:30'], '2026-10-25 00:00', '2026-10-25 00:30'];
        yield 'and after the first it is not told again' => ['Europe/Lisbon', ['01:30'], '2026-10-25 00:31', '2026-10-26 01:30'];
        yield 'a time that is left out moves forward' => ['Europe/Lisbon', ['01:30'], '2026-03-29 00:10', '2026-03-29 01:30'];
        yield 'behind a later one' => ['Europe/Lisbon', ['01:30', '02:10'], '2026-03-29 00:10', '2026-03-29 01:10'];
        yield 'south, where October is the spring' => ['Australia/Sydney', ['02:30'], '2026-10-03 14:00', '2026-10-03 16:30'];
        yield 'and April the autumn' => ['Australia/Sydney', ['02:30'], '2026-04-04 13:00', '2026-04-04 15:30'];
        yield 'by half an hour' => ['Australia/Lord_Howe', ['02:15'], '2026-10-03 12:00', '2026-10-03 15:45'];
        yield 'midnight that is left out' => ['Africa/Cairo', ['00:00'], '2026-04-23 12:00', '2026-04-23 22:00'];
        yield 'midnight' => ['UTC', ['00:00'], '2026-11-27 00:01', '2026-11-28 00:00'];
        yield 'a zone that is not on the hour' => ['Asia/Kathmandu', ['09:00'], '2026-11-27 00:00', '2026-11-27 03:15'];
    }

    /** @param non-empty-list<string> $times */
    #[DataProvider('rounds')]
    public function testWhatCanWaitIsToldAtTheNextOne(string $zone, array $times, string $openedAt, string $toldAt): void
    {
        $until = Gather::until(new DailyTimes(array_map(self::minute(...), $times), new \DateTimeZone($zone)));
        self::assertSame(self::at($toldAt)->ms, $until->endsAt(self::at($openedAt))->ms);
        self::assertSame(self::at($toldAt)->ms, $until->onceGathered(self::at($openedAt))->ms);
    }

    public function testForAWhileIsCountedFromTheOpening(): void
    {
        $opened = self::at('2026-03-29 00:59');
        $while = Gather::lasting(Duration::ofSeconds(120));
        self::assertSame(self::at('2026-03-29 01:01')->ms, $while->endsAt($opened)->ms);
        self::assertSame($opened->ms, $while->onceGathered($opened)->ms, 'what was gathered before is told at once');
    }

    /** Whatever the zone and the day: it is the first instant from then on that one of the times stands for, looked up minute by minute. */
    public function testItIsTheFirstThatTheClocksShow(): void
    {
        mt_srand(29);
        $days = [
            ['Europe/Lisbon', '2026-03-28'], ['Europe/Lisbon', '2026-10-24'], ['America/Santiago', '2026-04-03'], ['America/Santiago', '2026-09-04'],
            ['Africa/Cairo', '2026-04-22'], ['Africa/Cairo', '2026-10-28'], ['Australia/Lord_Howe', '2026-04-03'], ['Asia/Kolkata', '2026-11-26'],
        ];
        foreach ($days as [$name, $first]) {
            $zone = new \DateTimeZone($name);
            $shown = self::shown($zone, $first, 5);
            for ($round = 0; $round < 40; ++$round) {
                $minutes = array_map(static fn(): int => 10 * mt_rand(0, 143), range(0, mt_rand(0, 2)));
                $times = new DailyTimes($minutes, $zone);
                $at = Instant::of(new \DateTimeImmutable("{$first} 12:00", $zone))->plus(Duration::ofMinutes(mt_rand(0, 2_880)));
                $expected = PHP_INT_MAX;
                foreach ($minutes as $minute) {
                    foreach ($shown as $day) {
                        $expected = $day[$minute] >= $at->ms ? min($expected, $day[$minute]) : $expected;
                    }
                }
                $found = $times->from($at);
                self::assertSame($expected, $found->ms, "{$name}, {$times->words()} from {$at->in($zone)->format(DATE_ATOM)}");
                self::assertSame($found->ms, $times->from($found)->ms, 'it is its own next one');
            }
        }
    }

    /** @return list<array<int, int>> of each day: minute of the day → the instant for which it stands, by looking at the clock minute by minute */
    private static function shown(\DateTimeZone $zone, string $first, int $days): array
    {
        $shown = [];
        $begin = intdiv((new \DateTimeImmutable("{$first} 00:00", $zone))->getTimestamp(), 60);
        $before = null;
        for ($at = $begin - 1_440; $at < $begin + 1_440 * $days; ++$at) {
            $clock = (new \DateTimeImmutable('@' . 60 * $at))->setTimezone($zone);
            $wall = intdiv($clock->getTimestamp() + $clock->getOffset(), 60);
            // What the clocks leave out stands for as much later as they were set forward.
            $before ??= $wall - 1;
            for ($left = $before + 1; $left < $wall; ++$left) {
                $shown[intdiv($left, 1_440)][$left % 1_440] = ($at + $left - $before - 1) * self::MINUTE_MS;
            }
            $shown[intdiv($wall, 1_440)][$wall % 1_440] ??= $at * self::MINUTE_MS;
            $before = max($wall, $before);
        }

        return array_values(array_filter($shown, static fn(array $day): bool => count($day) === 1_440));
    }

    private static function minute(string $clock): int
    {
        [$hour, $minute] = explode(':', $clock);

        return 60 * (int) $hour + (int) $minute;
    }

    private static function at(string $utc): Instant
    {
        return Instant::of(new \DateTimeImmutable("{$utc} UTC"));
    }
}
