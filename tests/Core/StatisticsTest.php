<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\BaselineMethod;
use Olivine\Core\Formula\CalendarPart;
use Olivine\Core\Formula\HistogramGroups;
use Olivine\Core\Formula\Line;
use Olivine\Core\Formula\Lines;
use Olivine\Core\Formula\Node\Grouping;
use Olivine\Core\Formula\Node\Percentile;
use Olivine\Core\Formula\Node\Place;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Node\ShareBelow;
use Olivine\Core\Formula\Spread;
use Olivine\Core\Formula\Usual;
use Olivine\Core\Formula\Voice;
use Olivine\Core\Formula\Yardstick;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Window;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class StatisticsTest extends TestCase
{
    /** @return iterable<string, array{float, list<float>, float}> share, values, quantile by hand: 1 + share × (n − 1) is the rank */
    public static function quantiles(): iterable
    {
        yield 'one value' => [0.9, [7.0], 7.0];
        yield 'the middle of two' => [0.5, [1.0, 2.0], 1.5];
        yield 'a quarter along four' => [0.25, [10.0, 1.0, 4.0, 2.0], 1.75];
        yield 'the lowest' => [0.0, [3.0, 1.0, 2.0], 1.0];
        yield 'the highest' => [1.0, [3.0, 1.0, 2.0], 3.0];
        yield 'between equal infinities' => [0.5, [INF, INF], INF];
        yield 'rank 4.6 of five' => [0.9, [1.0, 2.0, 3.0, 4.0, 5.0], 4.6];
    }

    /** @param non-empty-list<float> $values */
    #[DataProvider('quantiles')]
    public function testQuantilesLieBetweenRanks(float $share, array $values, float $expected): void
    {
        self::assertEqualsWithDelta($expected, Spread::quantile($share, $values), 1e-12);
    }

    public function testSpreadsOfWhatIsSortedAreTheSameToTheLastDigit(): void
    {
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 3));
        for ($round = 0; $round < 5_000; ++$round) {
            $values = array_map(static fn(): float => mt_rand(0, 40) === 0 ? INF : fdiv(mt_rand(-5, 20), mt_rand(1, 3)), range(1, mt_rand(1, 9)));
            $sorted = $values;
            sort($sorted);
            $words = static fn(float $one): string => var_export($one, true);
            self::assertSame(array_map($words, [Spread::median($values), Spread::mad($values)]), array_map($words, Spread::ofSorted($sorted)));
        }
    }

    public function testSpreads(): void
    {
        self::assertSame(1.5, Spread::mad([1.0, 2.0, 4.0, 10.0]));
        self::assertSame(2.0, Spread::stddev([2.0, 4.0, 4.0, 4.0, 5.0, 5.0, 7.0, 9.0]), 'the textbook population');
        self::assertSame(
            [0.0, INF, -INF, 2.0],
            [Spread::distance(3, 3, 0), Spread::distance(3, 4, 0), Spread::distance(3, 2, 0), Spread::distance(1, 5, 2)],
        );
        mt_srand(8);
        for ($i = 0; $i < 200; ++$i) {
            $values = array_map(static fn(): float => mt_rand(-999, 999) / 7, range(1, mt_rand(1, 40)));
            $shifted = array_map(static fn(float $value): float => $value + 1_000, $values);
            self::assertEqualsWithDelta(Spread::mad($values), Spread::mad($shifted), 1e-9, 'a shift changes no spread');
            self::assertEqualsWithDelta(Spread::stddev($values), Spread::stddev($shifted), 1e-9);
            self::assertLessThanOrEqual(Spread::quantile(0.8, $values) + 1e-9, Spread::quantile(0.3, $values));
        }
    }

    /**
     * @return iterable<string, array{array<array-key, float>, float, float|null, float, float|null}> counts, percent, its value,
     *     bound, the share at or under it
     */
    public static function histograms(): iterable
    {
        $plain = ['0.1' => 60.0, '0.3' => 90.0, '+Inf' => 100.0];
        yield 'inside a bucket' => [$plain, 75.0, 0.2, 0.2, 0.75];
        yield 'at a bound' => [$plain, 60.0, 0.1, 0.1, 0.6];
        yield 'from nothing in the first bucket' => [$plain, 30.0, 0.05, 0.05, 0.3];
        yield 'above the highest bound it is that bound' => [$plain, 99.0, 0.3, 5.0, 0.9];
        yield 'nothing counted' => [['0.1' => 0.0, '+Inf' => 0.0], 50.0, null, 1.0, null];
        yield 'bounds in any order, a count that fell' => [['+Inf' => 10.0, '1' => 4.0, '2' => 3.0], 40.0, 1.0, 1.5, 0.4];
        yield 'below zero' => [['-1' => 5.0, '0' => 10.0, '+Inf' => 10.0], 75.0, -0.5, -0.5, 0.75];
        yield 'the lowest of all' => [$plain, 0.0, 0.0, 0.0, 0.0];
        yield 'the highest of all' => [['1' => 5.0, '2' => 10.0, '+Inf' => 10.0], 100.0, 2.0, 2.0, 1.0];
        yield 'an empty bucket between' => [['1' => 5.0, '2' => 5.0, '3' => 10.0, '+Inf' => 10.0], 50.0, 1.0, 2.5, 0.75];
        yield 'only the last bucket' => [['+Inf' => 7.0], 50.0, null, 3.0, 0.0];
    }

    /** @param non-empty-array<array-key, float> $counts */
    #[DataProvider('histograms')]
    public function testHistograms(array $counts, float $percent, ?float $value, float $bound, ?float $share): void
    {
        // At the second instant half of it was counted by a twin, at the third there was nothing.
        $line = static fn(string $le, string $twin, ?float ...$values): Line => new Line(
            LabelSet::of(['le' => $le, 'host' => $twin]),
            array_values($values),
        );
        $lines = [];
        foreach ($counts as $le => $count) {
            array_push($lines, $line((string) $le, 'a', $count, $count / 2, null), $line((string) $le, 'b', null, $count / 2, null));
        }
        $lines[] = $line('of no number', 'a', 1.0, 2.0, 3.0);
        $place = new Place(0, 0);
        $histogram = new Select($place, 'took_seconds', null);
        $all = new Grouping(true, []);
        $told = [
            [$value, HistogramGroups::of(new Percentile($place, $percent, $histogram, 300_000, $all), new Lines($lines))],
            [$share, HistogramGroups::of(new ShareBelow($place, $bound, $histogram, 300_000, $all), new Lines($lines))],
        ];
        foreach ($told as [$expected, $of]) {
            self::assertCount(1, $of->lines);
            foreach ([$expected, $expected, null] as $instant => $known) {
                $said = $of->lines[0]->values[$instant];
                self::assertSame($known === null, $said === null, "at instant {$instant}");
                self::assertEqualsWithDelta($known ?? 0.0, $said ?? 0.0, 1e-12, "at instant {$instant}");
            }
        }
    }

    public function testVoiceFollowsTheEModel(): void
    {
        self::assertEqualsWithDelta(4.41, Voice::opinionScore(0, 0, 0), 0.005, 'R = 93.2, the best there is (G.107, table 3)');
        self::assertEqualsWithDelta(4.27, Voice::opinionScore(0.15, 0.02, 0.01), 0.005, 'the example of the class, by hand');
        self::assertEqualsWithDelta(1.0, Voice::opinionScore(3.0, 0.5, 0.9), 0.05);
        foreach ([[NAN, 0, 0], [0, NAN, 0], [0, 0, NAN]] as $unknown) {
            self::assertNan(Voice::opinionScore(...$unknown));
        }
        $last = 5.0;
        foreach ([0.0, 0.005, 0.01, 0.05, 0.2, 1.0] as $loss) {
            $score = Voice::opinionScore(0.05, 0.0, $loss);
            self::assertLessThan($last, $score, 'more loss never sounds better');
            $last = $score;
        }
    }

    /** 98 and 102 by turns, mean 100 and deviation 2; eight hours of 500 in between would have made it 122 and 90. */
    public function testWhatWasRaisedIsLeftOutOfAnAverage(): void
    {
        $usual = new Usual(7 * 86_400_000, new \DateTimeZone('UTC'));
        $times = range($usual->stepMs(), 7 * 86_400_000, $usual->stepMs());
        $values = array_map(static fn(int $i): float => $i % 2 === 0 ? 98.0 : 102.0, array_keys($times));
        $steps = intdiv(8 * 3_600_000, $usual->stepMs());
        $troubled = array_replace($values, array_fill_keys(range(600, 600 + $steps - 1), 500.0));
        $of = static fn(array $values, BaselineMethod $method): ?array => $usual->centreAndSpread(
            new Window(LabelSet::none(), $times, array_values($values), $usual->stepMs()),
            $method,
            [end($times)],
            0,
        )[0];
        $mean = $of($troubled, BaselineMethod::Mean);
        self::assertEqualsWithDelta([100.0, 2.0], $mean, 0.01);
        self::assertEqualsWithDelta([100.0, 2.0], $of($troubled, BaselineMethod::Ewma), 0.1);
        // What is like that most of the time is usual.
        $often = array_map(static fn(int $i): float => $i % 3 === 0 ? 100.0 : 500.0, array_keys($times));
        self::assertEqualsWithDelta(Spread::mean($often), $of($often, BaselineMethod::Mean)[0] ?? 0.0, 1e-9);
    }

    /** With gaps, by the day and by the week, where clocks are set in between and where they are not: beside a clock that is asked each time. */
    public function testTheSameHourIsWhatTheClockOnTheWallShows(): void
    {
        mt_srand(31);
        $compared = 0;
        $spans = [['Europe/Lisbon', '2026-10-10'], ['Europe/Lisbon', '2026-07-01'], ['Australia/Lord_Howe', '2026-03-25'], ['UTC', '2026-10-10']];
        foreach ($spans as [$name, $from]) {
            $zone = new \DateTimeZone($name);
            $shown = static fn(int $ms): int => $ms + 1000 * $zone->getOffset(new \DateTimeImmutable('@' . intdiv($ms, 1000)));
            foreach ([[BaselineMethod::SameHour, 86_400_000, 7], [BaselineMethod::SameWeekday, 7 * 86_400_000, 28]] as [$method, $every, $days]) {
                $usual = new Usual($days * 86_400_000, $zone);
                $step = $usual->stepMs();
                $begin = intdiv((new \DateTimeImmutable($from, $zone))->getTimestamp() * 1000, $step) * $step;
                $times = array_values(array_filter(range($begin, $begin + 35 * 86_400_000, $step), static fn(): bool => mt_rand(0, 9) > 0));
                $values = array_map(static fn(): float => (float) mt_rand(0, 1_000), $times);
                $past = new Window(LabelSet::none(), $times, $values, $step);
                for ($i = 0; $i < 40; ++$i) {
                    $at = $begin + $step * mt_rand(1, intdiv(35 * 86_400_000, $step));
                    $same = [];
                    foreach ($times as $place => $time) {
                        $ago = $shown($at) - $shown($time);
                        $away = $ago % $every;
                        $isInside = $time <= $at && $time > $at - $days * 86_400_000;
                        if ($isInside && $ago >= $every - 1_800_000 && ($away <= 1_800_000 || $away >= $every - 1_800_000)) {
                            $same[] = $values[$place];
                        }
                    }
                    self::assertSame([$same === [] ? null : Spread::median($same)], $usual->baseline($past, $method, [$at]), "{$name} {$method->value} {$at}");
                    $compared += (int) ($same !== []);
                }
            }
        }
        self::assertGreaterThan(150, $compared);
    }

    public function testBaselines(): void
    {
        // Four days by the hour: 10 at night, 100 at noon; the fifth day begins like the others.
        $times = range(3_600_000, 5 * 86_400_000, 3_600_000);
        $values = array_map(static fn(int $at): float => intdiv($at, 3_600_000) % 24 === 12 ? 100.0 : 10.0, $times);
        $past = new Window(LabelSet::none(), $times, $values, 3_600_000);
        $usual = new Usual(4 * 86_400_000, new \DateTimeZone('UTC'));
        $noon = 4 * 86_400_000 + 12 * 3_600_000;
        self::assertSame([100.0], $usual->baseline($past, BaselineMethod::SameHour, [$noon]), 'noon is held against noons');
        self::assertSame([10.0], $usual->baseline($past, BaselineMethod::Median, [$noon]));
        self::assertEqualsWithDelta(10 + (4 * 90) / 96, $usual->baseline($past, BaselineMethod::Mean, [$noon])[0] ?? 0, 1e-9);
        self::assertGreaterThan(
            $usual->baseline($past, BaselineMethod::Ewma, [$noon - 3_600_000])[0],
            $usual->baseline($past, BaselineMethod::Ewma, [$noon])[0],
            'what is near weighs more',
        );
        self::assertSame([10.0, 0.0], $usual->spread($past, Yardstick::Mad, [$noon])[0] ?? null);
        self::assertSame([null], $usual->baseline($past, BaselineMethod::Median, [-86_400_000]), 'without a past nothing is usual');
        $hours = new Window(
            LabelSet::none(),
            $times,
            array_map(static fn(int $at): float => (float) (intdiv($at, 3_600_000) % 24), $times),
            3_600_000,
        );
        foreach ([1, 3, 12, 23] as $hour) {
            self::assertSame(
                [(float) $hour],
                $usual->baseline($hours, BaselineMethod::SameHour, [4 * 86_400_000 + $hour * 3_600_000]),
                'each hour is held against its own',
            );
        }
        // Of four weeks by the half hour each shows the hour of its week, by a clock that goes back an hour in the second of them.
        $zone = new \DateTimeZone('Europe/Lisbon');
        $monday = (new \DateTimeImmutable('2026-10-12 00:00', $zone))->getTimestamp() * 1000;
        $halfHours = range($monday, $monday + 35 * 86_400_000, 1_800_000);
        $hourOfWeek = static function (int $ms) use ($zone): float {
            $shown = (new \DateTimeImmutable('@' . intdiv($ms, 1000)))->setTimezone($zone);

            return ((int) $shown->format('N') - 1) * 24.0 + (int) $shown->format('G');
        };
        $weeks = new Window(LabelSet::none(), $halfHours, array_map($hourOfWeek, $halfHours), 1_800_000);
        foreach (['2026-11-09 00:30', '2026-11-14 10:30', '2026-11-15 23:30'] as $clock) {
            $at = (new \DateTimeImmutable($clock, $zone))->getTimestamp() * 1000;
            $usually = (new Usual(28 * 86_400_000, $zone))->centreAndSpread($weeks, BaselineMethod::SameWeekday, [$at], 0)[0];
            self::assertEqualsWithDelta($hourOfWeek($at), $usually[0] ?? NAN, 0.51, "{$clock} is held against the same hour of its weekday");
        }
        // Whatever lies between two instants of the grid is told by the one before, so a chart of any step shows the same.
        $beside = new Window(LabelSet::none(), range(5_000, 3_600_000, 15_000), array_map(floatval(...), range(1, 240)), 45_000);
        $hour = new Usual(3_600_000, new \DateTimeZone('UTC'));
        self::assertSame(
            array_fill(0, 3, $hour->baseline($beside, BaselineMethod::Mean, [1_800_000])[0]),
            $hour->baseline($beside, BaselineMethod::Mean, [1_800_000, 1_806_000, 1_814_999]),
        );
        self::assertNotSame($hour->baseline($beside, BaselineMethod::Mean, [1_814_999]), $hour->baseline($beside, BaselineMethod::Mean, [1_815_000]));
        self::assertSame(15_000, (new Usual(3_600_000, new \DateTimeZone('UTC')))->stepMs());
        self::assertSame(600_000, (new Usual(14 * 86_400_000, new \DateTimeZone('UTC')))->stepMs());
    }

    /** @return iterable<string, array{string, string, float, float}> instant, zone, hour, weekday */
    public static function instants(): iterable
    {
        yield 'Lisbon in winter' => ['2026-11-23T03:12:00Z', 'Europe/Lisbon', 3.0, 1.0];
        yield 'before the clocks go back' => ['2026-10-25T00:59:59Z', 'Europe/Lisbon', 1.0, 7.0];
        yield 'the second time it is one' => ['2026-10-25T01:00:00Z', 'Europe/Lisbon', 1.0, 7.0];
        yield 'the hour that is left out in spring' => ['2026-03-29T01:00:00Z', 'Europe/Lisbon', 2.0, 7.0];
        yield 'half an hour off, and a day later' => ['2026-11-23T18:31:00Z', 'Asia/Kolkata', 0.0, 2.0];
        yield 'a day earlier' => ['2026-11-23T03:00:00Z', 'America/Bogota', 22.0, 7.0];
    }

    #[DataProvider('instants')]
    public function testLocalTime(string $instant, string $zone, float $hour, float $weekday): void
    {
        $at = (int) (new \DateTimeImmutable($instant))->format('Uv');
        self::assertSame(
            [$hour, $weekday],
            [CalendarPart::Hour->at($at, new \DateTimeZone($zone)), CalendarPart::Weekday->at($at, new \DateTimeZone($zone))],
        );
    }
}
