<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\Plan;
use Olivine\Core\Formula\TooMuchToRead;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What a formula would take is known before it is run, and what would take too long is not run. */
final class PlanTest extends TestCase
{
    private const DAY = 86_400_000;
    private const NOW = 20_780 * self::DAY;

    /** @return iterable<string, array{string, int, int, string}> formula, days, step in seconds, part of the refusal; 50 series are read every 15 s */
    public static function tooMuch(): iterable
    {
        yield 'a year of readings' => ['x', 365, 43_200, 'would read about 105'];
        yield 'a year back' => ['x ago 200d + x', 200, 43_200, 'would read about'];
        yield 'inner formulas under inner formulas' => ['max(max(max(now(), 400d), 400d), 400d)', 1, 3_600, 'values at once'];
        yield 'two million local times' => ['mean(hour("Europe/Lisbon"), 300d)', 1, 3_600, 'steps of work'];
        yield 'a median over a fortnight, 700 times' => ['median(x, 14d)', 1, 120, 'steps of work'];
        yield 'a median over a day of many series' => ['quantile(0.9, x, 1d)', 1, 120, 'steps of work'];
        yield 'the same under an operator' => ['1 + abs(sum(mad(x, 1d)) per host)', 1, 120, 'steps of work'];
        yield 'percentiles of many buckets over a day' => ['percentile(95, x, 1d)', 14, 60, 'steps of work'];
    }

    #[DataProvider('tooMuch')]
    public function testTooMuchIsRefusedWithTheEstimateAndNothingIsRead(string $formula, int $days, int $stepSeconds, string $words): void
    {
        $source = new AllegedReadings(50, 15_000);
        $from = microtime(true);
        try {
            (new Evaluator($source))->range(Parser::parse($formula), self::NOW - $days * self::DAY, self::NOW, $stepSeconds * 1000);
            self::fail('It was run');
        } catch (TooMuchToRead $refusal) {
            self::assertStringContainsString($words, $refusal->getMessage());
            self::assertStringContainsString('choose', $refusal->getMessage(), 'the remedy is named');
        }
        self::assertSame(0, $source->read);
        self::assertLessThan(0.5, microtime(true) - $from);
    }

    /** @return iterable<string, array{string, int, int}> what people ask every day */
    public static function plain(): iterable
    {
        yield 'a day of everything' => ['x', 1, 120];
        yield 'a week in five-minute means' => ['mean(x, 5m)', 7, 900];
        yield 'a rate by host' => ['sum(rate(x, 5m)) per host', 3, 600];
        yield 'a year of hourly means, out of roll-ups' => ['mean(x, 1h)', 365, 43_200];
        yield 'a worst hour' => ['max(rate(x, 1m), 1h)', 1, 900];
        yield 'what is usual' => ['deviation(mean(x, 5m), mad, 1d)', 1, 900];
        yield 'a percentile' => ['percentile(95, x, 5m) per service', 1, 120];
        yield 'a median over an hour' => ['median(x, 1h)', 1, 900];
    }

    #[DataProvider('plain')]
    public function testWhatPeopleAskEveryDayIsRun(string $formula, int $days, int $stepSeconds): void
    {
        $source = new AllegedReadings(50, 15_000);
        (new Evaluator($source))->range(Parser::parse($formula), self::NOW - $days * self::DAY, self::NOW, $stepSeconds * 1000);
        self::assertGreaterThan(0, $source->read);
    }

    public function testLoadsByHand(): void
    {
        $plan = new Plan(new AllegedReadings(10, 60_000));
        $load = $plan->load(Parser::parse('median(x, 1h)'), 0, 599 * 60_000, 60_000);
        self::assertEqualsWithDelta(
            10 * 659,
            $load->readings,
            1,
            'ten series over the 599 min of the range and the hour before it, less its last minute',
        );
        self::assertEqualsWithDelta(6_000, $load->values, 1, 'ten series at 600 instants');
        self::assertEqualsWithDelta(6_000 * (10 + 60 * 30) + 6_590, $load->steps, 10, 'each sorts sixty readings');
        $both = $plan->load(Parser::parse('mean(x, 1h) + median(x, 1h)'), 0, 599 * 60_000, 60_000);
        self::assertEqualsWithDelta(2 * $load->readings, $both->readings, 1);
        self::assertSame(10, $both->series);
        self::assertSame($load->readings, $plan->load(Parser::parse('median(x, 1h) ago 7d'), 0, 599 * 60_000, 60_000)->readings);
    }

    /** Windows of whole hours aside: they are told from roll-ups, which this source has not. */
    public function testTheEstimateIsNeverLessThanWhatIsRead(): void
    {
        mt_srand(7);
        $windows = ['1m', '5m', '50m', '6h10m'];
        $part = static function (int $depth) use (&$part, $windows): string {
            $window = $windows[mt_rand(0, 3)];

            return match ($depth === 0 ? mt_rand(0, 5) : mt_rand(6, 13)) {
                0 => 'x',
                1 => 'x where host = "a"',
                2 => "rate(x, {$window})",
                3 => "quantile(0.9, x, {$window})",
                4 => 'age(x)',
                5 => "share_below(0.5, x, {$window})",
                6 => 'max(' . $part($depth - 1) . ", {$window})",
                7 => 'sum(' . $part($depth - 1) . ') per host',
                8 => '(' . $part($depth - 1) . ' / ' . $part(0) . ')',
                9 => '(' . $part($depth - 1) . ') ago 3h',
                10 => 'deviation(' . $part($depth - 1) . ', mad, 2h)',
                11 => 'baseline(' . $part($depth - 1) . ', mean, 2h)',
                12 => 'top(3, ' . $part($depth - 1) . ')',
                default => 'not (' . $part($depth - 1) . ') default 1',
            };
        };
        for ($i = 0; $i < 400; ++$i) {
            $formula = $part(mt_rand(0, 3));
            $source = new AllegedReadings(5, [15_000, 60_000][mt_rand(0, 1)]);
            $span = mt_rand(0, 6) * 3_600_000;
            $step = [60_000, 300_000][mt_rand(0, 1)];
            $tree = Parser::parse($formula);
            $told = (new Plan($source))->load($tree, self::NOW - $span, self::NOW, $step)->readings;
            (new Evaluator($source))->range($tree, self::NOW - $span, self::NOW, $step);
            self::assertGreaterThanOrEqual(0.9 * $source->readings - 50, $told, "{$formula} over {$span} ms");
            self::assertLessThanOrEqual(1.2 * $source->readings + 50, $told, "{$formula} over {$span} ms: what is small is not refused as large");
        }
    }

    public function testLongWorkInPartsIsHeldAgainstTheWholeSpan(): void
    {
        $evaluator = new Evaluator(new AllegedReadings(50, 15_000));
        $evaluator->refuseLongWork(Parser::parse('mean(x, 5m)'), self::NOW - 14 * self::DAY, self::NOW, 15_000);
        $this->expectException(TooMuchToRead::class);
        $evaluator->refuseLongWork(Parser::parse('median(x, 1d)'), self::NOW - 14 * self::DAY, self::NOW, 15_000);
    }
}
