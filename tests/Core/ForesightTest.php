<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Foresight;
use Olivine\Core\Formula\Nearness;
use Olivine\Core\Rule\Side;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Window;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Where a slowly filling thing is going: cases worked out by hand, and what must hold of any line. */
final class ForesightTest extends TestCase
{
    private const NOW = 1_795_000_000_000;
    private const HOUR_MS = 3_600_000;

    /** @return iterable<string, array{list<float|null>, float, Side, float|null}> hourly values, limit, direction, hours until it is crossed */
    public static function cases(): iterable
    {
        $rising = array_map(floatval(...), range(59, 70));
        yield 'a point an hour, twenty points to go' => [$rising, 90.0, Side::Above, 20.0];
        yield 'the same, downwards' => [array_map(static fn(float $value): float => 100.0 - $value, $rising), 10.0, Side::Below, 20.0];
        yield 'it leads away from the limit' => [$rising, 10.0, Side::Below, null];
        yield 'it is past the limit' => [$rising, 69.5, Side::Above, null];
        yield 'one value too few' => [array_slice($rising, 1), 90.0, Side::Above, null];
        yield 'a gap between' => [[57.0, 58.0, null, null, 61.0, 62.0, 63.0, 64.0, 65.0, 66.0, 67.0, 68.0, 69.0, 70.0], 90.0, Side::Above, 20.0];
        yield 'what is not finite does not count' => [[NAN, -INF, ...$rising], 90.0, Side::Above, 20.0];
        yield 'only gaps' => [array_fill(0, 20, null), 90.0, Side::Above, null];
        yield 'nothing' => [[], 90.0, Side::Above, null];
        yield 'level' => [array_fill(0, 20, 70.0), 90.0, Side::Above, null];
        yield 'up and down' => [
            [...array_map(floatval(...), range(50, 69)), ...array_map(floatval(...), range(69, 50))],
            90.0,
            Side::Above,
            null,
        ];
        yield 'a jump out of nothing is no line' => [[...array_fill(0, 20, 10.0), 80.0], 90.0, Side::Above, null];
        yield 'numbers as large as there are' => [array_map(static fn(int $i): float => $i * 1e307, range(1, 15)), 1.7e308, Side::Above, null];
        yield 'so slow that no clock goes so far' => [
            array_map(static fn(int $i): float => 1.0 + $i * 1e-9, range(0, 14)),
            1e12,
            Side::Above,
            null,
        ];
    }

    /** @param list<float|null> $values */
    #[DataProvider('cases')]
    public function testTellsWhenTheLimitIsReached(array $values, float $limit, Side $direction, ?float $hours): void
    {
        $found = self::reaches($values, $limit, $direction, 40);
        self::assertSame($hours === null, $found === null);
        if ($hours !== null && $found !== null) {
            self::assertEqualsWithDelta($hours, ($found - self::NOW) / self::HOUR_MS, 1e-6);
        }
    }

    /**
     * Whatever a series did: where nothing is foreseen because it cannot come near the limit, it is not foreseen beyond it when it is worked
     * out, and all else is foreseen as ever.
     */
    public function testWhatIsOutOfReachIsNotForeseenBeyond(): void
    {
        mt_srand(30);
        $foresight = new Foresight(new \DateTimeZone('Europe/Lisbon'));
        [$passed, $told] = [0, 0];
        for ($round = 0; $round < 400; ++$round) {
            $withinMs = mt_rand(1, 48) * self::HOUR_MS;
            $spanMs = max(48 * self::HOUR_MS, 4 * $withinMs);
            $stepMs = Foresight::stepMs($spanMs);
            $count = mt_rand(1, 160);
            [$value, $drift, $day] = [mt_rand(20, 90), mt_rand(-10, 10) / 50, mt_rand(0, 3)];
            $times = $values = [];
            for ($i = 0; $i < $count; ++$i) {
                $value += mt_rand(0, 30) === 0 ? mt_rand(-8, 8) : $drift + mt_rand(-10, 10) / 40;
                $times[] = self::NOW - self::NOW % $stepMs - ($count - 1 - $i) * $stepMs;
                $values[] = mt_rand(0, 20) === 0 ? null : $value + $day * sin($times[$i] / self::HOUR_MS / 24 * 2 * M_PI);
            }
            $past = new Window(LabelSet::of([]), $times, $values, 5 * $stepMs);
            $instants = array_map(static fn(int $i): int => self::NOW - (20 - $i) * intdiv($stepMs, 3), range(0, 20));
            $isAbove = mt_rand(0, 1) === 0;
            $limit = (float) mt_rand(-20, 140);
            $all = $foresight->alongside($past, $instants, $withinMs, $spanMs);
            foreach ($foresight->alongside($past, $instants, $withinMs, $spanMs, new Nearness($limit, $isAbove)) as $i => $near) {
                if ($near !== null || $all[$i] === null) {
                    self::assertSame($all[$i], $near);
                    $told += (int) ($near !== null);
                } else {
                    [$highest, $lowest] = $all[$i];
                    self::assertTrue($isAbove ? $highest < $limit : $lowest > $limit, "round {$round}: {$lowest} to {$highest}, limit {$limit}");
                    ++$passed;
                }
            }
        }
        self::assertGreaterThan(500, $passed);
        self::assertGreaterThan(500, $told);
    }

    /**
     * Any true line is told to the second; noise of a twentieth of its rise moves that by less than a fifth of what is seen and
     * foreseen; mirrored and scaled it is the same.
     */
    public function testHoldsForAnyLine(): void
    {
        mt_srand(12);
        for ($i = 0; $i < 500; ++$i) {
            $slope = mt_rand(1, 1_000) / 100;
            $level = mt_rand(-50_000, 50_000) / 10;
            $steps = mt_rand(12, 60);
            $limit = $level + $slope * mt_rand(1, 4 * ($steps - 1) - 1);
            $hours = ($limit - $level) / $slope;
            $line = array_map(static fn(int $at): float => $level + $slope * $at, range(1 - $steps, 0));

            self::assertEqualsWithDelta($hours, self::hours($line, $limit, Side::Above), 1 / 3_600);
            self::assertEqualsWithDelta(
                $hours,
                self::hours(array_map(static fn(float $value): float => -3 * $value, $line), -3 * $limit, Side::Below),
                1 / 3_600,
            );
            $noisy = array_map(static fn(float $value): float => $value + ($slope * $steps * mt_rand(-50, 50)) / 1_000, $line);
            if ($hours > $steps / 2 && $hours < 3 * $steps) {
                self::assertEqualsWithDelta($hours, self::hours($noisy, $limit, Side::Above), 0.2 * ($hours + $steps));
            }
        }
    }

    /** @param list<float> $values */
    private static function hours(array $values, float $limit, Side $direction): float
    {
        $within = 4 * (count($values) - 1);

        return ((self::reaches($values, $limit, $direction, $within) ?? self::fail('no crossing')) - self::NOW) / self::HOUR_MS;
    }

    /** @param list<float|null> $values hourly, the newest now; what is no number is left out */
    private static function reaches(array $values, float $limit, Side $direction, int $withinHours): ?int
    {
        $times = $known = [];
        foreach ($values as $i => $value) {
            if ($value !== null && is_finite($value)) {
                $times[] = self::NOW - (count($values) - 1 - $i) * self::HOUR_MS;
                $known[] = $value;
            }
        }

        return (new Foresight(new \DateTimeZone('UTC')))->reaches(
            $times,
            $known,
            self::NOW,
            $withinHours * self::HOUR_MS,
            $limit,
            $direction === Side::Above,
        );
    }
}
