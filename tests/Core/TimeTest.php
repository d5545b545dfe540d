<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class TimeTest extends TestCase
{
    /** @return iterable<string, array{string, string, string}> */
    public static function clocks(): iterable
    {
        yield 'summer' => ['2026-07-01T12:00:00Z', 'Europe/Lisbon', '2026-07-01 13:00:00.000'];
        yield 'the hour that is there twice, first' => ['2026-10-25T00:30:00Z', 'Europe/Lisbon', '2026-10-25 01:30:00.000'];
        yield 'the hour that is there twice, second' => ['2026-10-25T01:30:00Z', 'Europe/Lisbon', '2026-10-25 01:30:00.000'];
        yield 'past the hour that is not there' => ['2026-03-29T01:00:00.250Z', 'Europe/Lisbon', '2026-03-29 02:00:00.250'];
        yield 'a zone off by a quarter of an hour' => ['2026-01-01T00:00:00Z', 'Asia/Kathmandu', '2026-01-01 05:45:00.000'];
        yield 'before 1970' => ['1969-12-31T23:59:59.250Z', 'UTC', '1969-12-31 23:59:59.250'];
    }

    #[DataProvider('clocks')]
    public function testIsSeenOnTheClocksOfAZone(string $moment, string $zone, string $shown): void
    {
        $instant = Instant::of(new \DateTimeImmutable($moment));
        self::assertSame($shown, $instant->in(new \DateTimeZone($zone))->format('Y-m-d H:i:s.v'));
        self::assertSame($instant->ms, Instant::of($instant->in(new \DateTimeZone($zone)))->ms, 'and back');
    }

    public function testTimeGoesByWhateverTheClocksDo(): void
    {
        $zone = new \DateTimeZone('Europe/Lisbon');
        $evening = Instant::of(new \DateTimeImmutable('2026-10-24 20:00', $zone));
        $morning = Instant::of(new \DateTimeImmutable('2026-10-25 20:00', $zone));
        self::assertSame('25 h', $morning->since($evening)->words());
        self::assertSame('19:00', $evening->plus(Duration::ofDays(1))->in($zone)->format('H:i'));
        self::assertSame($morning->ms, $evening->plus($morning->since($evening))->ms);
        self::assertSame([$evening, $morning], [$morning->earlier($evening), $evening->later($morning)]);
        self::assertSame([false, true], [$evening->isBefore($evening), $evening->isBefore($morning)]);
    }

    public function testStepsAreTheSameWhereverOneBegins(): void
    {
        $step = Duration::ofSeconds(15);
        mt_srand(17);
        for ($i = 0; $i < 1_000; ++$i) {
            $instant = Instant::ofMs(mt_rand(0, 2_000_000_000_000));
            $on = $instant->onStep($step);
            self::assertSame([0, true], [$on->ms % 15_000, $instant->since($on)->ms < 15_000]);
            self::assertSame($on->ms, $on->onStep($step)->ms);
            self::assertSame($i, $on->plus($step->times($i))->since($on)->steps($step));
        }
    }

    /** @return iterable<array{Duration, string}> */
    public static function durations(): iterable
    {
        yield [Duration::none(), '0 s'];
        yield [Duration::ofMs(59_999), '59 s'];
        yield [Duration::ofMinutes(6), '6 min'];
        yield [Duration::ofSeconds(372), '6 min 12 s'];
        yield [Duration::ofSeconds(725), '12 min'];
        yield [Duration::ofMinutes(61), '1 h 1 min'];
        yield [Duration::ofMinutes(1_501), '25 h 1 min'];
        yield [Duration::ofDays(3), '3 d'];
        yield [Duration::ofHours(75), '3 d 3 h'];
    }

    #[DataProvider('durations')]
    public function testDurationsAreSaidInTwoUnitsAtMost(Duration $duration, string $words): void
    {
        self::assertSame($words, $duration->words());
    }
}
