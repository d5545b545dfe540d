<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\SlidingWindow;
use Olivine\Core\Formula\TimeReducer;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Window;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/** Counters read together are told together: each as though it were alone, and as the definition says. */
final class CountersTest extends TestCase
{
    private const STALE_MS = 45_000;

    public function testReadTogetherOrAloneTheyGrowAsTheDefinitionSays(): void
    {
        $random = new Randomizer(new Mt19937(20_261_127));
        $told = 0;
        for ($round = 0; $round < 150; ++$round) {
            $times = $this->times($random);
            $windowMs = $random->getInt(1, 20) * 15_000;
            $first = $times[0] + $random->getInt(-100_000, 400_000);
            $instants = range($first, $first + 900_000, [5_000, 15_000, 60_000][$random->getInt(0, 2)]);
            $mustSee = [0.0, 0.8][$random->getInt(0, 1)];
            $places = null;
            foreach (range(1, 6) as $_) {
                // Some of a page miss a reading, or were seen first later, so that what holds for the others does not for them.
                $missing = $random->getInt(0, 3) === 0 ? [$random->getInt(0, count($times) - 1)] : [];
                $ownTimes = array_values(array_diff_key($times, array_flip($missing)));
                $window = new Window(
                    LabelSet::none(),
                    $ownTimes,
                    $this->values($random, count($ownTimes)),
                    self::STALE_MS,
                    $random->getInt(0, 3) === 0 ? $ownTimes[0] : 0,
                );
                $sliding = new SlidingWindow($window);
                $places = $sliding->places($windowMs, $instants, $mustSee, $places);
                foreach ([TimeReducer::Growth, TimeReducer::Rate] as $reducer) {
                    $together = $sliding->grown($reducer, $places);
                    self::assertSame($sliding->reduce($reducer, $windowMs, $instants, null, $mustSee), $together, 'as though it were alone');
                    foreach ($instants as $i => $at) {
                        $expected = self::byDefinition($window, $reducer, $at, $windowMs, $mustSee);
                        self::assertSame($expected === null, $together[$i] === null);
                        self::assertEqualsWithDelta($expected ?? 0.0, $together[$i] ?? 0.0, 1e-6);
                        $told += $expected === null ? 0 : 1;
                    }
                }
            }
        }
        self::assertGreaterThan(50_000, $told);
    }

    /** @return non-empty-list<int> every 15 s, some late, some a while apart */
    private function times(Randomizer $random): array
    {
        $times = [$at = 1_000_000];
        for ($i = 0; $i < 60; ++$i) {
            $times[] = $at += 15_000 + ($random->getInt(0, 9) === 0 ? $random->getInt(0, 90_000) : $random->getInt(0, 300));
        }

        return $times;
    }

    /** @return list<float> whole things or parts of them, now and then from zero again */
    private function values(Randomizer $random, int $count): array
    {
        $isWhole = $random->getInt(0, 1) === 0;
        $value = (float) $random->getInt(0, 1_000_000);
        $values = [];
        for ($i = 0; $i < $count; ++$i) {
            $value = $random->getInt(0, 19) === 0 ? 0.0 : $value + ($isWhole ? $random->getInt(0, 50) : $random->getInt(0, 50_000) / 1_001);
            $values[] = $value;
        }

        return $values;
    }

    private static function byDefinition(Window $window, TimeReducer $reducer, int $at, int $windowMs, float $mustSee): ?float
    {
        $start = $at - $windowMs;
        $inside = array_filter($window->times, static fn(int $time): bool => $time > $start && $time <= $at);
        $before = array_filter($window->times, static fn(int $time): bool => $time <= $start && $time >= $start - $window->staleMs);
        if ($inside === []) {
            return null;
        }
        $last = (int) array_key_last($inside);
        $base = array_key_last($before) ?? (int) array_key_first($inside);
        $could = max(0, $at - max($start, $window->bornMs - 15_000));
        if ($mustSee > 0.0 && $window->times[$last] - max($start, $window->times[$base]) + 15_000 < $mustSee * $could) {
            return null;
        }
        $grown = 0.0;
        for ($i = $base + 1; $i <= $last; ++$i) {
            [$value, $former] = [(float) $window->values[$i], (float) $window->values[$i - 1]];
            $grown += $value < $former ? $value : $value - $former;
        }
        if ($reducer === TimeReducer::Growth) {
            return $grown;
        }

        return $base === $last ? null : $grown / (($window->times[$last] - $window->times[$base]) / 1000);
    }
}
