<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\ByName;
use Olivine\Core\Formula\Checker;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\HistogramBuckets;
use Olivine\Core\Formula\MetricUnit;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\WallClock;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Series that come and go, hours that are left out or come twice, bounds that are written in several ways. */
final class ComingAndGoingTest extends TestCase
{
    /** Containers c1 and c2 run until 300 s, c3 and c4 from 300 s on; each side had two with the same gate. */
    private static function replaced(): Readings
    {
        $readings = new Readings(60_000);
        foreach (['c1' => [0, 300], 'c2' => [0, 300], 'c3' => [300, 600], 'c4' => [300, 600]] as $container => [$from, $to]) {
            foreach (['used' => 10.0, 'limit' => 40.0] as $metric => $value) {
                $values = array_fill_keys(range($from, $to - 15, 15), $value) + ($to < 600 ? [$to => null] : []);
                $readings->with($metric, ['gate' => $container < 'c3' ? 'old' : 'new', 'container' => $container, 'side' => $metric], $values);
            }
        }

        return $readings;
    }

    public function testWhatEndedIsNoPartnerAnyMore(): void
    {
        $readings = (new Readings(60_000))
            ->with('used', ['host' => 'h', 'container' => 'a1'], [0 => 10.0, 15 => 10.0, 30 => null])
            ->with('used', ['host' => 'h', 'container' => 'a2'], [30 => 20.0, 45 => 20.0, 60 => 20.0])
            ->with('limit', ['host' => 'h', 'image' => 'b1'], [0 => 40.0, 15 => 40.0, 30 => null])
            ->with('limit', ['host' => 'h', 'image' => 'b2'], [30 => 40.0, 45 => 40.0, 60 => 40.0]);
        $evaluator = new Evaluator($readings);
        $formula = Parser::parse('used / limit');
        self::assertSame(
            ['container="a2",host="h"' => [0.5]],
            self::table($evaluator, 'used / limit', 60, 60, 15),
            'at an instant after both were replaced',
        );
        self::assertSame(
            ['container="a1",host="h"' => [0.25, 0.25, null, null, null], 'container="a2",host="h"' => [null, null, 0.5, 0.5, 0.5]],
            self::table($evaluator, 'used / limit', 0, 60, 15),
            'over a range in which both were replaced',
        );
        self::assertCount(2, $evaluator->range($formula, 0, 60_000, 15_000)->lines);
    }

    public function testTwoThatAreThereAtOnceAreStillAmbiguous(): void
    {
        $this->expectException(FormulaError::class);
        self::table(new Evaluator(self::replaced()), 'used / limit on gate', 0, 285, 15);
    }

    public function testContainersReplacedOnBothSidesPairByWhatIsThere(): void
    {
        $table = self::table(new Evaluator(self::replaced()), 'sum(used) per gate / limit on gate', 0, 585, 15);
        self::assertCount(4, $table);
        foreach ($table as $labels => $values) {
            $isOld = str_contains($labels, 'gate="old"');
            self::assertSame($isOld ? 0.5 : null, $values[19], $labels);
            self::assertSame($isOld ? null : 0.5, $values[20], $labels);
        }
    }

    /** @return iterable<string, array{string}> */
    public static function overRangesAndAtInstants(): iterable
    {
        yield 'a default of a number' => ['m where h = "a" default 0'];
        yield 'a default of all' => ['m default 7'];
        yield 'a default of another side' => ['(m where h = "a") default (m where h = "b")'];
        yield 'a default with fewer labels' => ['m default sum(m)'];
        yield 'a number that has a default' => ['5 default m'];
        yield 'nothing that has a default' => ['nothing default 3'];
        yield 'a default of a default' => ['(m where h = "a") default (m where h = "b") default 1'];
        yield 'an operator between those that come and go' => ['m / sum(m)'];
        yield 'labels that only some have' => ['m / n'];
        yield 'labels that only some have, with a default' => ['m default n'];
        yield 'named labels' => ['m / n on h'];
        yield 'a number on the left' => ['2 * m'];
        yield 'what is missing for longer than its own window' => ['missing(m, 2m)'];
    }

    /** Series with long holes and ends, some with a label more: over a range each instant has exactly what it has by itself. */
    #[DataProvider('overRangesAndAtInstants')]
    public function testARangeHasAtEachInstantWhatTheInstantHas(string $formula): void
    {
        mt_srand(crc32($formula));
        for ($round = 0; $round < 12; ++$round) {
            $readings = new Readings(45_000);
            foreach (['m' => ['a', 'b', 'c'], 'n' => ['a', 'b', 'd']] as $metric => $hosts) {
                foreach ($hosts as $host) {
                    $labels = ['h' => $host] + (mt_rand(0, 2) === 0 ? ['extra' => "{$metric}{$host}"] : []);
                    $values = [];
                    for ($second = mt_rand(0, 300); $second < 1_200; $second += mt_rand(0, 12) === 0 ? mt_rand(60, 400) : 15) {
                        $values[$second] = mt_rand(0, 15) === 0 ? null : (float) mt_rand(1, 9);
                    }
                    $readings->with($metric, $labels, $values);
                }
            }
            $evaluator = new Evaluator($readings);
            $whole = self::table($evaluator, $formula, 0, 1_200, 60);
            for ($i = 0; $i <= 20; ++$i) {
                $there = array_filter(
                    array_map(static fn(array $values): ?float => $values[$i], $whole),
                    static fn(?float $value): bool => $value !== null,
                );
                $instant = array_map(static fn(array $values): ?float => $values[0], self::table($evaluator, $formula, 60 * $i, 60 * $i, 1));
                self::assertSame($instant, $there, "{$formula} at {$i} min");
            }
        }
    }

    public function testWhatIsMissingForLongerThanADayIsMissing(): void
    {
        $backup = (new Readings(900_000))->with('backup', [], array_fill_keys(range(0, 86_400, 3_600), 1.0));
        $at = static fn(string $formula, int $hour): ?float => (new Evaluator($backup))->range(
            Parser::parse($formula),
            $hour * 3_600_000,
            $hour * 3_600_000,
            1,
        )->lines[0]->values[0] ?? null;
        self::assertSame(
            [0.0, 0.0, 1.0, 1.0, null],
            array_map(static fn(int $hour): ?float => $at('missing(backup, 26h)', $hour), [24, 49, 50, 73, 74]),
            'seen in the day before those 26 hours',
        );
        self::assertSame([0.0, 1.0, 1.0, null], array_map(static fn(int $hour): ?float => $at('missing(backup, 2h)', $hour), [25, 26, 49, 50]));
    }

    /** @return iterable<string, array{string, string, string, int}> zone, instant, the same time of day on another day, hours between them */
    public static function clockChanges(): iterable
    {
        yield 'forward in Lisbon' => ['Europe/Lisbon', '2026-03-29 08:00', '2026-03-28 09:00', 23];
        yield 'back in Lisbon' => ['Europe/Lisbon', '2026-10-25 09:00', '2026-10-24 08:00', 25];
        yield 'weeks after' => ['Europe/Lisbon', '2026-11-08 09:00', '2026-10-19 08:00', 20 * 24 + 1];
        yield 'half an hour on Lord Howe' => ['Australia/Lord_Howe', '2026-04-04 22:30', '2026-04-03 22:00', 24];
        yield 'no change in Kolkata' => ['Asia/Kolkata', '2026-10-25 09:00', '2026-10-24 09:00', 24];
        yield 'UTC' => ['UTC', '2026-03-29 08:00', '2026-03-28 08:00', 24];
        yield 'a fixed offset' => ['+05:30', '2026-03-29 08:00', '2026-03-28 08:00', 24];
    }

    public function testTheSameHourIsThatOfTheClockOnTheWall(): void
    {
        $zone = new \DateTimeZone('Europe/Lisbon');
        // Every half hour for five weeks over the change of 25 October; the value is the hour that the clock shows.
        $values = [];
        for ($second = (int) strtotime('2026-10-10 00:00 UTC'); $second < strtotime('2026-11-14 00:00 UTC'); $second += 1_800) {
            $values[$second] = (float) (new \DateTimeImmutable("@{$second}"))->setTimezone($zone)->format('G');
        }
        $readings = (new Readings(5_400_000))->with('shown', [], $values);
        $formula = Parser::parse('baseline(shown, same_hour, 7d)');
        foreach (['2026-10-20 09:15', '2026-10-26 09:15', '2026-10-29 03:15', '2026-11-05 17:15'] as $local) {
            $at = (new \DateTimeImmutable($local, $zone))->getTimestamp() * 1000;
            $usual = (new Evaluator($readings, zone: static fn(): \DateTimeZone => $zone))->range($formula, $at, $at, 1)->lines[0]->values[0];
            self::assertSame((float) substr($local, 11, 2), $usual, $local);
        }
        $inUtc = (new Evaluator($readings))->range(
            $formula,
            1000 * (int) strtotime('2026-10-26 09:15 UTC'),
            1000 * (int) strtotime('2026-10-26 09:15 UTC'),
            1,
        )->lines[0]->values[0];
        self::assertSame(10.0, $inUtc, 'by days of 24 hours it is an hour off');
    }

    #[DataProvider('clockChanges')]
    public function testAClockOnTheWall(string $zone, string $at, string $before, int $hours): void
    {
        [$then, $now] = [1000 * (int) strtotime("{$before} UTC"), 1000 * (int) strtotime("{$at} UTC")];
        $shown = (new WallClock(new \DateTimeZone($zone)))->shown([$then, $now]);
        if ($zone !== 'Australia/Lord_Howe') {
            self::assertSame($hours * 3_600_000, $now - $then);
        }
        self::assertSame(0, ($shown[1] - $shown[0]) % 86_400_000);
        foreach ([$then, $now] as $i => $instant) {
            $expected = (new \DateTimeImmutable('@' . intdiv($instant, 1000)))->setTimezone(new \DateTimeZone($zone));
            self::assertSame(1000 * ($expected->getTimestamp() + $expected->getOffset()), $shown[$i]);
        }
    }

    public function testABoundIsANumberHoweverItIsWritten(): void
    {
        $readings = new Readings(45_000);
        foreach ([['a', '1', '2.5', '+Inf'], ['b', '1.0', '25e-1', 'inf'], ['c', '1e0', '2.50', '+inf']] as [$target, $one, $two, $all]) {
            foreach ([[$one, 4.0], [$two, 8.0], [$all, 10.0]] as [$le, $counted]) {
                $readings->with('took_bucket', ['target' => $target, 'le' => $le], [0 => 0.0, 60 => $counted]);
            }
        }
        $values = static fn(string $formula): array => self::table(new Evaluator($readings), $formula, 60, 60, 1);
        self::assertSame(['' => [0.4]], $values('share_below(1, took, 1m) dropping target'), 'three targets that write their bounds differently');
        self::assertSame(['target="a"' => [0.4], 'target="b"' => [0.4], 'target="c"' => [0.4]], $values('share_below(1, took, 1m)'));
        self::assertSame([1.0, 2.5, INF, -INF], array_map(HistogramBuckets::bound(...), ['1e0', '2.50', '+Inf', '-infinity']));
        self::assertNan(HistogramBuckets::bound('one'));
    }

    /** @return iterable<array{string, string}> */
    public static function names(): iterable
    {
        yield ['network_bytes_in_total', 'bytes'];
        yield ['system_memory_usage_bytes', 'bytes'];
        yield ['wait_seconds_total', 'seconds'];
        yield ['cache_hit_ratio', 'ratio'];
        yield ['bytes_a_second_ratio', 'ratio'];
        yield ['request_duration_seconds_sum', 'seconds'];
        yield ['request_duration_seconds_bucket', ''];
        yield ['request_duration_seconds_count', ''];
        yield ['kilobytes_total', ''];
        yield ['jobs_total', ''];
    }

    #[DataProvider('names')]
    public function testANameTellsItsUnit(string $name, string $unit): void
    {
        self::assertSame($unit, MetricUnit::ofName($name));
    }

    /** @return iterable<array{string, int}> formula, and where its fault is; -1 for none */
    public static function withoutAStore(): iterable
    {
        yield ['mem_bytes > 5m', 12];
        yield ['mem_bytes > 5MB', -1];
        yield ['network_bytes_in_total + 5s', 25];
        yield ['anything > 5m', -1];
        yield ['rate(mem_bytes, 5m) > 5m', -1];
        yield ['percentile(95, took_seconds, 5m) > 5MB', 35];
        yield ['sum(x where quue = "a") per quu', -1];
    }

    #[DataProvider('withoutAStore')]
    public function testAUnitIsKnownByTheNameAlone(string $formula, int $offset): void
    {
        try {
            (new Checker(new ByName()))->unitOf(Parser::parse($formula));
            self::assertSame(-1, $offset);
        } catch (FormulaError $error) {
            self::assertSame($offset, $error->place->offset, $error->getMessage());
        }
    }

    /** @return array<string, list<float|null>> */
    private static function table(Evaluator $evaluator, string $formula, int $from, int $to, int $step): array
    {
        $table = [];
        foreach ($evaluator->range(Parser::parse($formula), $from * 1000, $to * 1000, $step * 1000)->lines as $line) {
            self::assertArrayNotHasKey($line->labels->key(), $table, 'one line a label set');
            $table[$line->labels->key()] = $line->values;
        }
        ksort($table);

        return $table;
    }
}
