<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\SlidingBuckets;
use Olivine\Core\Formula\SlidingWindow;
use Olivine\Core\Formula\TimeReducer;
use Olivine\Core\Series\Buckets;
use Olivine\Core\Series\DamagedBlock;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Rollup;
use Olivine\Core\Series\RollupCodec;
use Olivine\Core\Series\Window;
use PHPUnit\Framework\TestCase;

final class RollupTest extends TestCase
{
    private const MINUTE = 60_000;

    public function testACounterThatRestartsBetweenBuckets(): void
    {
        $rollup = Rollup::of([60_000, 180_000, 300_000, 360_000], [10.0, 14.0, 3.0, null], 0, 300_000, 3, true);
        self::assertSame([3, 0, 0], $rollup->counts, 'the reading at the very end of a bucket is inside it');
        self::assertSame([10.0, 3.0, 7.0, 27.0], [$rollup->firsts[0], $rollup->lasts[0], $rollup->growths[0] ?? null, $rollup->sums[0]]);
        $rollup = Rollup::of([60_000, 180_000, 300_001], [10.0, 14.0, 3.0], 0, 300_000, 2, true);
        self::assertSame([[2, 1], [4.0, 0.0], [60_000, 300_001]], [$rollup->counts, $rollup->growths, $rollup->firstAts]);
    }

    /** Wherever the first bucket begins, the same readings give the same buckets. */
    public function testBucketsBeginWhereTheyAreSaidTo(): void
    {
        mt_srand(34);
        for ($round = 0; $round < 30; ++$round) {
            [$times, $values] = self::readings(mt_rand(1, 3));
            $from = mt_rand(1, 1_000_000) * self::MINUTE;
            self::assertEquals(
                Rollup::of($times, $values, 0, 5 * self::MINUTE, 36, true),
                Rollup::of(array_map(static fn(int $at): int => $at + $from, $times), $values, $from, 5 * self::MINUTE, 36, true),
            );
        }
    }

    public function testTheNewestReadingIsStillKnownUntilItIsStale(): void
    {
        $buckets = new SlidingBuckets(
            new Buckets(
                LabelSet::none(),
                120_000,
                [300_000, 600_000],
                [2, 1],
                [1.0, 5.0],
                [2.0, 5.0],
                [1.0, 5.0],
                [2.0, 5.0],
                [3.0, 5.0],
                null,
                [60_000, 480_000],
                [240_000, 480_000],
            ),
        );
        self::assertSame(
            [null, 2.0, 2.0, null, null],
            $buckets->newest([299_999, 300_000, 360_000, 360_001, 480_000]),
            'a bucket speaks from its end on, until its last reading is stale',
        );
        self::assertSame([5.0, null], $buckets->newest([600_000, 600_001]));
        $patient = new SlidingBuckets(
            new Buckets(LabelSet::none(), 900_000, [300_000], [1], [1.0], [1.0], [1.0], [1.0], [1.0], null, [60_000], [60_000]),
        );
        self::assertSame([1.0, 1.0, null], $patient->newest([300_000, 960_000, 960_001]));
    }

    /** Readings of every sort, cut into buckets, slid over, and held against the readings themselves. */
    public function testBucketsTellWhatReadingsTell(): void
    {
        mt_srand(31);
        for ($round = 0; $round < 40; ++$round) {
            [$times, $values] = self::readings(mt_rand(1, 3));
            $staleMs = 45_000;
            $rollup = Rollup::of($times, $values, 0, 5 * self::MINUTE, 36, true);
            $filled = array_keys(array_filter($rollup->counts));
            $pick = static fn(array $column): array => array_values(array_intersect_key($column, array_flip($filled)));
            $buckets = new SlidingBuckets(
                new Buckets(
                    LabelSet::none(),
                    $staleMs,
                    array_map(static fn(int $i): int => ($i + 1) * 5 * self::MINUTE, $filled),
                    $pick($rollup->counts),
                    $pick($rollup->firsts),
                    $pick($rollup->lasts),
                    $pick($rollup->lows),
                    $pick($rollup->highs),
                    $pick($rollup->sums),
                    $pick($rollup->growths ?? []),
                    $pick($rollup->firstAts),
                    $pick($rollup->lastAts),
                ),
            );
            $window = new SlidingWindow(new Window(LabelSet::none(), $times, $values, $staleMs));
            $instants = range(5 * self::MINUTE, 180 * self::MINUTE, 5 * self::MINUTE);
            foreach (TimeReducer::cases() as $reducer) {
                if (!SlidingBuckets::tells($reducer)) {
                    continue;
                }
                foreach ([5, 15, 60] as $minutes) {
                    $mustSee = mt_rand(0, 3) / 3;
                    $expected = $window->reduce($reducer, $minutes * self::MINUTE, $instants, null, $mustSee);
                    foreach ($buckets->reduce($reducer, $minutes * self::MINUTE, $instants, $mustSee) as $i => $value) {
                        $words = "round {$round}: {$reducer->value} over {$minutes} min at {$instants[$i]}";
                        self::assertSame($expected[$i] === null, $value === null, $words);
                        self::assertEqualsWithDelta($expected[$i] ?? 0.0, $value ?? 0.0, 1e-9 * max(1.0, abs($expected[$i] ?? 0.0)), $words);
                    }
                }
            }
        }
    }

    public function testRollUpsComeBackAsTheyWere(): void
    {
        mt_srand(32);
        for ($round = 0; $round < 200; ++$round) {
            [$times, $values] = self::readings(mt_rand(1, 3));
            $rollup = Rollup::of($times, $values, 0, 5 * self::MINUTE, 36, $round % 2 === 0);
            $page = Rollup::of($times, array_fill(0, count($times), 1.0), 0, 5 * self::MINUTE, 36, false);
            $pageTimes = [$page->firstAts, $page->lastAts];
            $packed = RollupCodec::pack($rollup, $pageTimes);
            $back = RollupCodec::unpack($packed, RollupCodec::unpackTimes(RollupCodec::packTimes($pageTimes)));
            foreach ($rollup->counts as $i => $count) {
                self::assertSame($count, $back->counts[$i]);
                if ($count > 0) {
                    foreach (['firsts', 'lasts', 'lows', 'highs', 'sums', 'firstAts', 'lastAts'] as $column) {
                        self::assertSame($rollup->{$column}[$i], $back->{$column}[$i], $column);
                    }
                    self::assertSame($rollup->growths[$i] ?? null, $back->growths[$i] ?? null);
                }
            }
            self::assertSame([$back->counts, $back->sums], RollupCodec::unpackSums($packed));
        }
        $this->expectException(DamagedBlock::class);
        RollupCodec::unpack("\x08\x05\x00", [[], []]);
    }

    /** Times that are those of the page, and growth that is last less first, are not kept again. */
    public function testWhatFollowsFromTheRestTakesNoRoom(): void
    {
        $times = range(15_000, 14_400_000, 15_000);
        $size = static function (array $values, bool $counter, int $aside) use ($times): int {
            $page = Rollup::of($times, array_fill(0, count($times), 1.0), 0, 5 * self::MINUTE, 48, false);
            $page = [array_map(static fn(int $at): int => $at + $aside, $page->firstAts), $page->lastAts];

            return strlen(RollupCodec::pack(Rollup::of($times, array_values($values), 0, 5 * self::MINUTE, 48, $counter), $page));
        };
        mt_srand(35);
        $rising = [];
        foreach ($times as $i => $_) {
            $rising[] = ($rising[$i - 1] ?? 0.0) + mt_rand(0, 9);
        }
        $plain = $size($rising, false, 0);
        self::assertSame($plain, $size($rising, true, 0), 'a counter that did not restart');
        self::assertGreaterThan($plain + 10, $size($rising, true, 1), 'other times than the page');
        $restarted = [...array_slice($rising, 0, 500), 0.0, ...array_slice($rising, 501)];
        self::assertGreaterThan($plain + 10, $size($restarted, true, 0), 'one that restarted');
        self::assertLessThan(0.5 * 48 * 5 * 8, $plain, 'less than half of its numbers as doubles');
    }

    public function testLaterHoursAreLaidIntoTheirDay(): void
    {
        $day = Rollup::none(24, true);
        $hour = Rollup::of([10, 3_600_000], [5.0, 8.0], 0, 3_600_000, 4, true);
        $laid = $day->with(8, $hour, 3_600_000);
        self::assertSame(2, $laid->counts[8]);
        self::assertSame([8 * 3_600_000 + 10, 9 * 3_600_000], [$laid->firstAts[8], $laid->lastAts[8]]);
        self::assertSame(2, array_sum($laid->counts));
        self::assertSame(2, array_sum($laid->with(8, $hour, 3_600_000)->counts), 'the same hours twice count once');
    }

    /** @return array{list<int>, list<float|null>} three hours of readings: a counter with restarts, a gauge, or one with holes and NaN */
    private static function readings(int $kind): array
    {
        $times = [];
        $values = [];
        $value = 0.0;
        for ($at = mt_rand(1, 20_000); $at <= 180 * self::MINUTE; $at += mt_rand(14_000, 16_000)) {
            if ($kind === 3 && mt_rand(0, 60) === 0) {
                $at += mt_rand(20_000, 900_000);
                if ($at > 180 * self::MINUTE) {
                    break;
                }
            }
            $value = match ($kind) {
                1 => mt_rand(0, 80) === 0 ? 0.0 : $value + mt_rand(0, 9),
                2 => (float) (mt_rand(-1_000_000, 1_000_000) / 997),
                default => mt_rand(0, 20) === 0 ? NAN : (float) mt_rand(0, 99),
            };
            $times[] = $at;
            $values[] = $kind === 3 && mt_rand(0, 25) === 0 ? null : $value;
        }

        return $times === [] ? [[1], [1.0]] : [$times, $values];
    }
}
