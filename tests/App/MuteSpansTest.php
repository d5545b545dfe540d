<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Delivery\Definition\MuteKind;
use Olivine\App\Delivery\Entity\KeptMute;
use Olivine\App\Delivery\MuteSpans;
use Olivine\App\Roster\Calendar\BadCalendar;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** When maintenance comes again, worked out by hand on the clocks of its zone. */
final class MuteSpansTest extends TestCase
{
    /** @return iterable<string, array{string, string, string, string, array{string, string}, list<string>}> zone, first time, rule, look; when in UTC */
    public static function recurring(): iterable
    {
        yield 'each Sunday night' => [
            'Europe/Lisbon', '2026-11-01 01:00', '2026-11-01 03:00', 'FREQ=WEEKLY;BYDAY=SU', ['2026-11-10', '2026-11-24'],
            ['2026-11-15 01:00 2026-11-15 03:00', '2026-11-22 01:00 2026-11-22 03:00'],
        ];
        yield 'over the night that is an hour longer: the first 01:00 to 03:00, three hours' => [
            'Europe/Lisbon', '2026-10-18 01:00', '2026-10-18 03:00', 'FREQ=WEEKLY', ['2026-10-17', '2026-11-02'],
            ['2026-10-18 00:00 2026-10-18 02:00', '2026-10-25 00:00 2026-10-25 03:00', '2026-11-01 01:00 2026-11-01 03:00'],
        ];
        yield 'over the night without 01:00: from 02:00 on, an hour' => [
            'Europe/Lisbon', '2026-03-22 01:00', '2026-03-22 03:00', 'FREQ=WEEKLY', ['2026-03-21', '2026-04-06'],
            ['2026-03-22 01:00 2026-03-22 03:00', '2026-03-29 01:00 2026-03-29 02:00', '2026-04-05 00:00 2026-04-05 02:00'],
        ];
        yield 'only within the hour that does not exist: it moves forward with both ends' => [
            'Europe/Lisbon', '2026-03-28 01:15', '2026-03-28 01:45', 'FREQ=DAILY', ['2026-03-28', '2026-03-30 23:00'],
            ['2026-03-28 01:15 2026-03-28 01:45', '2026-03-29 01:15 2026-03-29 01:45', '2026-03-30 00:15 2026-03-30 00:45'],
        ];
        yield 'half an hour on Lord Howe' => [
            'Australia/Lord_Howe', '2026-04-04 01:00', '2026-04-04 02:00', 'FREQ=DAILY', ['2026-04-03 12:00', '2026-04-05 18:00'],
            ['2026-04-03 14:00 2026-04-03 15:00', '2026-04-04 14:00 2026-04-04 15:30', '2026-04-05 14:30 2026-04-05 15:30'],
        ];
        yield 'over midnight, on the last Friday of a month' => [
            'America/Santiago', '2026-09-25 22:00', '2026-09-26 04:00', 'FREQ=MONTHLY;BYDAY=-1FR', ['2026-10-01', '2026-12-01'],
            ['2026-10-31 01:00 2026-10-31 07:00', '2026-11-28 01:00 2026-11-28 07:00'],
        ];
        yield 'a zone without any' => [
            'Asia/Kolkata', '2026-10-20 02:30', '2026-10-20 03:00', 'FREQ=DAILY;INTERVAL=3', ['2026-10-21', '2026-10-28'],
            ['2026-10-22 21:00 2026-10-22 21:30', '2026-10-25 21:00 2026-10-25 21:30'],
        ];
        yield 'days that touch are one' => [
            'UTC', '2026-11-02 00:00', '2026-11-03 00:00', 'FREQ=DAILY;COUNT=3', ['2026-11-01', '2026-11-30'],
            ['2026-11-02 00:00 2026-11-05 00:00'],
        ];
        yield 'so often, and no more' => [
            'UTC', '2026-11-02 10:00', '2026-11-02 11:00', 'FREQ=WEEKLY;COUNT=2', ['2026-11-01', '2026-12-30'],
            ['2026-11-02 10:00 2026-11-02 11:00', '2026-11-09 10:00 2026-11-09 11:00'],
        ];
        yield 'a leap day' => [
            'UTC', '2024-02-29 10:00', '2024-02-29 11:00', 'FREQ=YEARLY', ['2027-01-01', '2028-12-31'],
            ['2028-02-29 10:00 2028-02-29 11:00'],
        ];
    }

    /**
     * @param array{string, string} $look
     * @param list<string>          $comes
     */
    #[DataProvider('recurring')]
    public function testWhatComesAgain(string $zone, string $from, string $to, string $rule, array $look, array $comes): void
    {
        $mute = self::mute($zone, $from, $to, $rule);
        self::assertSame($comes, self::shown($mute, ...$look));
        // Asked by the piece it is the same.
        [$begin, $end] = [self::at($look[0], 'UTC')->ms, self::at($look[1], 'UTC')->ms];
        $pieces = [];
        for ($at = $begin; $at < $end; $at += 3 * 86_400_000) {
            foreach (MuteSpans::of($mute, Instant::ofMs($at), Instant::ofMs(min($end, $at + 3 * 86_400_000))) as [$begins, $ends]) {
                $pieces["{$begins->in(new \DateTimeZone('UTC'))->format('Y-m-d H:i')}"] = $ends;
            }
        }
        self::assertSame(array_map(static fn(string $one): string => substr($one, 0, 16), $comes), array_keys($pieces));
    }

    /** Rules that came for ten years: what is passed over at once is what is passed over day by day, as a rule with an end is. */
    public function testAWindowOfManyYearsComesAsItDidFromItsFirstDay(): void
    {
        foreach (['FREQ=DAILY', 'FREQ=DAILY;INTERVAL=3', 'FREQ=WEEKLY', 'FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,TH,SU', 'FREQ=DAILY;BYDAY=SA'] as $rule) {
            $mute = static fn(string $of): KeptMute => self::mute('Europe/Lisbon', '2016-03-03 01:00', '2016-03-03 02:30', $of);
            $at = static fn(string $of): array => self::shown($mute($of), '2026-02-20', '2026-04-10');
            $quickly = $at($rule);
            self::assertSame($at("{$rule};UNTIL=20991231"), $quickly, $rule);
            self::assertGreaterThan(4, count($quickly), $rule);
        }
    }

    public function testOneThatWasEndedHushesNoMoreAndNoneBeforeItWasSet(): void
    {
        $mute = self::mute('UTC', '2026-11-02 10:00', '2026-11-02 12:00', 'FREQ=DAILY');
        $mute->at = self::at('2026-11-03 11:00', 'UTC');
        $mute->endedAt = self::at('2026-11-05 11:30', 'UTC');
        self::assertSame(
            ['2026-11-03 11:00 2026-11-03 12:00', '2026-11-04 10:00 2026-11-04 12:00', '2026-11-05 10:00 2026-11-05 11:30'],
            self::shown($mute, '2026-11-01', '2026-11-30'),
        );
        $this->expectException(BadCalendar::class);
        self::shown(self::mute('UTC', '2026-11-02 10:00', '2026-11-02 12:00', 'FREQ=SECONDLY'), '2026-11-01', '2026-11-30');
    }

    /** @return list<string> in UTC */
    private static function shown(KeptMute $mute, string $from, string $to): array
    {
        $text = static fn(Instant $at): string => $at->in(new \DateTimeZone('UTC'))->format('Y-m-d H:i');

        return array_map(
            static fn(array $span): string => "{$text($span[0])} {$text($span[1])}",
            MuteSpans::of($mute, self::at($from, 'UTC'), self::at($to, 'UTC')),
        );
    }

    private static function mute(string $zone, string $from, string $to, string $rule): KeptMute
    {
        $at = static fn(string $time): Instant => self::at($time, $zone);

        return new KeptMute(MuteKind::Window, 'backup', 'host = "a"', 'each night', null, Instant::ofMs(0), $at($from), $at($to), $zone, $rule);
    }

    private static function at(string $time, string $zone): Instant
    {
        return Instant::of(new \DateTimeImmutable($time, new \DateTimeZone($zone)));
    }
}
