<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Store\UsualBand;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Parser;
use Olivine\Tests\Core\Readings;
use PHPUnit\Framework\TestCase;

/** What is usual at an instant, against its definition: the same hours of the four weeks before, half an hour to either side. */
final class UsualBandTest extends TestCase
{
    private const WEEK = 604_800;
    private const NOW = 2_960 * self::WEEK;
    private const STEP = 300;

    public function testTheBandIsWhatTheSameHoursOfPastWeeksHeld(): void
    {
        mt_srand(5);
        for ($round = 0; $round < 8; ++$round) {
            // Some hosts are younger than others, and some were away for hours.
            $hosts = [];
            $readings = new Readings(3 * 60_000);
            foreach (['a', 'b', 'c'] as $host) {
                $values = [];
                $born = self::NOW - mt_rand(1, 5) * self::WEEK;
                for ($week = 5; $week >= 0; --$week) {
                    for (
                        $at = self::NOW - $week * self::WEEK - 6 * 3_600;
                        $at <= self::NOW - $week * self::WEEK + 3_600;
                        $at += mt_rand(0, 60) === 0 ? 9_000 : 60
                    ) {
                        if ($at >= $born) {
                            $values[$at - ($at % 60)] = mt_rand(0, 50) === 0 ? NAN : (float) mt_rand(-50, 50) + 100 * $week;
                        }
                    }
                }
                $hosts[$host] = $values;
                $readings->with('load', ['host' => $host], $values);
            }
            $first = self::NOW - 2 * 3_600;
            $bands = (new UsualBand(new Evaluator($readings), static fn(): \DateTimeZone => new \DateTimeZone('UTC')))->of(
                Parser::parse('load'),
                $first * 1000,
                self::NOW * 1000,
                self::STEP * 1000,
            );
            foreach ($hosts as $host => $values) {
                $band = $bands["host=\"{$host}\""] ?? null;
                foreach (range($first, self::NOW, self::STEP) as $i => $at) {
                    $past = self::past($values, $at);
                    if (count($past) < 5) {
                        self::assertNull($band['middle'][$i] ?? null, 'too little to call anything usual');
                        self::assertNull($band['low'][$i] ?? null);
                        continue;
                    }
                    [$low, $middle, $high] = [self::quantile($past, 0.02), self::quantile($past, 0.5), self::quantile($past, 0.98)];
                    self::assertNotNull($band);
                    self::assertEqualsWithDelta($low - 0.1 * ($high - $low), $band['low'][$i], 1e-9);
                    self::assertEqualsWithDelta($middle, $band['middle'][$i], 1e-9);
                    self::assertEqualsWithDelta($high + 0.1 * ($high - $low), $band['high'][$i], 1e-9);
                }
            }
        }
    }

    /** Lisbon's clocks went back on 25 October 2026, at 01:00 UTC: nine in the morning is nine in the morning before and after. */
    public function testTheSameHoursAreThoseOfTheClockOnTheWall(): void
    {
        $zone = new \DateTimeZone('Europe/Lisbon');
        $values = [];
        for ($second = (int) strtotime('2026-09-20 UTC'); $second < strtotime('2026-11-20 UTC'); $second += 600) {
            $values[$second] = 60.0 * (int) (new \DateTimeImmutable("@{$second}"))->setTimezone($zone)->format('G') + (int) gmdate('i', $second);
        }
        $usual = new UsualBand(new Evaluator((new Readings(1_800_000))->with('shown', [], $values)), static fn(): \DateTimeZone => $zone);
        foreach (['2026-10-24 09:00', '2026-10-26 09:00', '2026-11-02 18:30', '2026-10-25 12:00'] as $local) {
            $at = (new \DateTimeImmutable($local, $zone))->getTimestamp();
            $band = $usual->of(Parser::parse('shown'), 1000 * ($at - 36 * 3_600), 1000 * $at, 600_000)[''];
            self::assertCount(217, $band['middle'], 'also over the change itself');
            self::assertSame($values[$at], $band['middle'][216], $local);
            self::assertSame($values[$at - 3_600 * 12], $band['middle'][144], "twelve hours before {$local}");
        }
    }

    /**
     * @param array<int, float> $values
     *
     * @return list<float> those of the same half hours, a week after the other, sorted
     */
    private static function past(array $values, int $at): array
    {
        $past = [];
        for ($week = 1; $week <= 4; ++$week) {
            for ($near = $at - 1_800; $near <= $at + 1_800; $near += self::STEP) {
                // The newest reading counts for three minutes.
                $instant = $near - $week * self::WEEK;
                foreach ([0, 60, 120, 180] as $age) {
                    if (isset($values[$instant - $age])) {
                        if (!is_nan($values[$instant - $age])) {
                            $past[] = $values[$instant - $age];
                        }
                        break;
                    }
                }
            }
        }
        sort($past);

        return $past;
    }

    /** @param non-empty-list<float> $sorted */
    private static function quantile(array $sorted, float $share): float
    {
        $place = $share * (count($sorted) - 1);
        $below = $sorted[(int) floor($place)];

        return $below + ($place - floor($place)) * ($sorted[(int) ceil($place)] - $below);
    }
}
