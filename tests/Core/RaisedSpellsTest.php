<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\BaselineMethod;
use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\PastsAtHand;
use Olivine\Core\Formula\UnusualSpan;
use Olivine\Core\Formula\Usual;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\AllThatIsThere;
use Olivine\Core\Rule\Baseline;
use Olivine\Core\Rule\Condition\Departure;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Outcome;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\RaisedSpells;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Together;
use Olivine\Core\Rule\Transition;
use Olivine\Core\Rule\Way;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Window;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What was read while a rule was raised is no part of what is usual from the next midnight on. */
final class RaisedSpellsTest extends TestCase
{
    private const MINUTE = 60;
    private const HOUR = 3_600;
    private const DAY = 86_400;

    /**
     * Readings an hour apart from an hour before the first midnight on, 1, 2, 3 …; 2 d are looked back on from 10:00 of the third
     * day, so at 16 to 63; worked out by hand.
     *
     * @return iterable<string, array{list<UnusualSpan>, float}>
     */
    public static function troubles(): iterable
    {
        $span = static fn(float $known, float $from, float $through): UnusualSpan => new UnusualSpan(
            (int) ($known * 3_600_000),
            (int) ($from * 3_600_000),
            (int) min(PHP_INT_MAX, $through * 3_600_000),
        );
        $mean = static fn(array $left): float => array_sum($left) / count($left);
        $all = range(12, 59);
        yield 'no trouble' => [[], $mean($all)];
        yield 'four hours, and both ends' => [[$span(20, 20, 24)], $mean([...range(12, 19), ...range(25, 59)])];
        yield 'from its onset on, not from when it was raised' => [[$span(22, 20, 24)], $mean([...range(12, 19), ...range(25, 59)])];
        yield 'two that overlap' => [[$span(20, 20, 24), $span(22, 22, 26)], $mean([...range(12, 19), ...range(27, 59)])];
        yield 'begun before what is looked back on' => [[$span(5, 5, 15)], $mean(range(16, 59))];
        yield 'of today: nobody knew at midnight' => [[$span(49, 49, 52)], $mean($all)];
        yield 'known at midnight itself: not before it' => [[$span(48, 47, 52)], $mean($all)];
        yield 'lasts: up to midnight, as it was known then' => [[$span(40, 40, INF)], $mean([...range(12, 39), ...range(49, 59)])];
        yield 'over by now, but not at midnight' => [[$span(40, 40, 51)], $mean([...range(12, 39), ...range(49, 59)])];
        yield 'over before' => [[$span(2, 2, 9)], $mean($all)];
        yield 'most of what there is: usual by now' => [[$span(13, 13, 44)], $mean($all)];
        yield 'half of it' => [[$span(14, 14, 37)], $mean([12, 13, ...range(38, 59)])];
        yield 'forgotten: known more than twice the span ago' => [[$span(-40, 12, 20)], $mean($all)];
        yield 'not forgotten yet' => [[$span(-36, 12, 20)], $mean(range(21, 59))];
    }

    /** @param list<UnusualSpan> $trouble */
    #[DataProvider('troubles')]
    public function testLeavesOutWhatIsKnown(array $trouble, float $mean): void
    {
        $hours = range(0, 59);
        $past = new Window(
            LabelSet::of([]),
            array_map(static fn(int $hour): int => $hour * 3_600_000, $hours),
            array_map(floatval(...), $hours),
            3_600_000,
        );
        $usual = new Usual(48 * 3_600_000, new \DateTimeZone('UTC'));
        [$told] = $usual->centreAndSpread($past, BaselineMethod::Mean, [59 * 3_600_000 + 1], 0, $trouble);
        self::assertEqualsWithDelta($mean, $told[0] ?? null, 1e-9);
    }

    /** The same hours of other days, each night in trouble: left out they would leave nobody to compare with. */
    public function testSameHoursThatWereAlwaysInTroubleAreWhatIsUsual(): void
    {
        $hours = range(0, 24 * 6);
        $value = static fn(int $hour): float => $hour % 24 === 2 ? 500.0 + intdiv($hour, 24) : 10.0;
        $past = new Window(
            LabelSet::of([]),
            array_map(static fn(int $hour): int => $hour * 3_600_000, $hours),
            array_map($value, $hours),
            3_600_000,
        );
        $night = static fn(int $day): UnusualSpan => new UnusualSpan(...array_fill(0, 3, ($day * 24 + 2) * 3_600_000));
        $usual = new Usual(5 * 86_400_000, new \DateTimeZone('UTC'));
        $at = (5 * 24 + 2) * 3_600_000;
        $told = static fn(UnusualSpan ...$trouble): ?float => $usual->centreAndSpread(
            $past,
            BaselineMethod::SameHour,
            [$at],
            0,
            array_values($trouble),
        )[0][0] ?? null;
        self::assertSame(502.5, $told(), 'the nights of four days: the first is just not in the span any more');
        self::assertSame(502.0, $told($night(4)), 'without the last');
        self::assertSame(502.5, $told(...array_map($night, [1, 2, 3, 4])));
    }

    /** A day of trouble that an average would remember for as long as it looks back. */
    public function testTheNextDayIsMeasuredByCalmOnes(): void
    {
        $values = [];
        for ($second = 0; $second < 4 * self::DAY; $second += 10 * self::MINUTE) {
            $isTrouble = $second >= 2 * self::DAY + 12 * self::HOUR && $second < 2 * self::DAY + 14 * self::HOUR;
            $isAgain = $second >= 3 * self::DAY + 12 * self::HOUR && $second < 3 * self::DAY + 13 * self::HOUR;
            $values[$second] = ($isTrouble || $isAgain ? 110.0 : 100.0) + (intdiv($second, 600) % 2 === 0 ? 2.0 : -2.0);
        }
        $readings = (new Readings(1_200_000))->with('depth', ['queue' => 'boarding'], $values);
        $rule = self::rule(BaselineMethod::Mean, 2);
        $engine = new RuleEngine(new AllThatIsThere(new Evaluator($readings)));
        $outcome = $engine->run($rule, [], Instant::ofMs(0), Instant::ofMs(4 * self::DAY * 1_000));
        $expected = ['2 12:00 boarding raised', '2 14:00 boarding calm', '3 12:00 boarding raised', '3 13:00 boarding calm'];
        self::assertSame($expected, self::words($outcome->transitions));
        $usual = static fn(AlertTransition $one): array => array_map(
            static fn(float $number): float => round($number, 6),
            array_intersect_key($one->transition->numbers, ['usual' => 0, 'spread' => 0]),
        );
        self::assertEqualsWithDelta(['usual' => 100.0, 'spread' => 2.0], $usual($outcome->transitions[2]), 0.02, 'without what was raised the day before');
        self::assertGreaterThan(100.1, $usual($outcome->transitions[1])['usual'], 'on the day itself it counts: it is left out from midnight on');

        $alone = $engine->run($rule, [], Instant::ofMs(0), Instant::ofMs(4 * self::DAY * 1_000), raised: RaisedSpells::none());
        self::assertGreaterThan(100.3, $usual($alone->transitions[2])['usual'], 'nobody knows of any spell');
    }

    /** @return iterable<string, array{BaselineMethod, Together|null}> */
    public static function ways(): iterable
    {
        foreach (BaselineMethod::cases() as $method) {
            if ($method !== BaselineMethod::SameWeekday) {
                yield $method->value => [$method, null];
            }
        }
        yield 'one alert for the group' => [BaselineMethod::Mean, new Together(['queue'])];
    }

    /** Part by part, by what was recorded up to midnight, as it runs live: the same as all at once. */
    #[DataProvider('ways')]
    public function testPartsThatGoByWhatWasRecordedGiveWhatTheWholeGives(BaselineMethod $method, ?Together $together): void
    {
        mt_srand(28);
        $readings = new Readings(7_200_000);
        foreach (['north', 'south'] as $broker) {
            $values = [];
            $lift = 0.0;
            for ($second = 0; $second < 7 * self::DAY; $second += self::HOUR) {
                $lift = mt_rand(1, 20) === 1 ? (float) mt_rand(0, 2) * 9 : $lift;
                $values[$second] = 100.0 + $lift + mt_rand(-20, 20) / 10;
            }
            $readings->with('depth', ['queue' => 'boarding', 'broker' => $broker], $values);
        }
        $rule = self::rule($method, 3, $together, 60);
        $sight = new AllThatIsThere(new Evaluator($readings));
        $through = Instant::ofMs(7 * self::DAY * 1_000);
        $whole = (new RuleEngine($sight))->run($rule, [], Instant::ofMs(0), $through);
        self::assertGreaterThan(3, count($whole->transitions));

        $live = new RuleEngine(new AllThatIsThere((new Evaluator($readings))->keeping(new PastsAtHand())));
        $outcome = new Outcome([], [], Instant::ofMs(0));
        $recorded = [];
        while ($outcome->through->isBefore($through)) {
            $first = $outcome->through->plus($rule->step);
            $midnight = $first->onStep(Duration::ofDays(1));
            $known = array_values(array_filter($recorded, static fn(AlertTransition $one): bool => $one->transition->at->isBefore($midnight)));
            $last = $through->earlier($first->plus($rule->step->times(mt_rand(0, 30))));
            $outcome = $live->part($rule, $outcome->alerts, $first, $last, RaisedSpells::in($known, $rule));
            array_push($recorded, ...$outcome->transitions);
        }
        $words = self::words($recorded);
        $wholeWords = self::words($whole->transitions);
        sort($words);
        sort($wholeWords);
        self::assertSame($wholeWords, $words);
        $again = (new RuleEngine($sight))->run($rule, [], Instant::ofMs(0), $through, raised: RaisedSpells::in($recorded, $rule));
        self::assertSame(self::words($whole->transitions), self::words($again->transitions), 'and so does one that knows all that was recorded');
    }

    /** Out of sight it is not known to be raised; a raise that grows graver is still the same. */
    public function testASpellIsOneFromItsRaiseToItsEnd(): void
    {
        $rule = self::rule(BaselineMethod::Mean, 2);
        $labels = LabelSet::of(['queue' => 'boarding']);
        $moves = [
            [0, Phase::Calm, Phase::Building],
            [5, Phase::Building, Phase::Raised],
            [6, Phase::Raised, Phase::Raised],
            [7, Phase::Raised, Phase::Easing],
            [8, Phase::Easing, Phase::Raised],
            [9, Phase::Raised, Phase::Blind],
            [12, Phase::Blind, Phase::Raised],
            [14, Phase::Raised, Phase::Lost],
            [20, Phase::Calm, Phase::Raised],
        ];
        $happened = array_map(
            static fn(array $move): AlertTransition => new AlertTransition(
                $labels,
                new Transition(Instant::ofMs($move[0]), $move[1], $move[2], Severity::Major, 1.0, Instant::ofMs(0)),
            ),
            $moves,
        );
        $spells = RaisedSpells::in($happened, $rule);
        self::assertEquals(
            [new UnusualSpan(5, 0, 9), new UnusualSpan(12, 0, 14), new UnusualSpan(20, 0)],
            $spells->of($labels),
        );
        self::assertSame([], $spells->of(LabelSet::of(['queue' => 'tickets'])));
        self::assertEquals([new UnusualSpan(12, 0, 14), new UnusualSpan(20, 0)], RaisedSpells::in(array_slice($happened, 5), $rule)->of($labels));
    }

    private static function rule(BaselineMethod $method, int $days, ?Together $together = null, int $minutes = 20): Rule
    {
        $condition = new Departure(
            Baseline::ofPast($method, Duration::ofDays($days), Duration::ofDays(1)),
            Way::Rises,
            new Limits(Side::Above, [new Level(Severity::Major, 3.0)], 2.0),
        );
        $plain = PlainRules::rule('depth', $condition, PlainRules::holding(0, 0, 7_200_000), $minutes * 60_000);

        return new Rule($plain->watched, $condition, $plain->holding, Duration::ofMinutes($minutes), $together);
    }

    /**
     * @param list<AlertTransition> $transitions
     *
     * @return list<string> `2 14:00 boarding calm`, the day, the time, of what, and where to
     */
    private static function words(array $transitions): array
    {
        return array_map(
            static fn(AlertTransition $one): string => sprintf(
                '%d %s %s',
                intdiv($one->transition->at->ms, self::DAY * 1_000),
                gmdate('H:i', intdiv($one->transition->at->ms, 1_000)) . rtrim(" {$one->labels->get('queue')} {$one->labels->get('broker')}"),
                $one->transition->to->value,
            ),
            $transitions,
        );
    }
}
