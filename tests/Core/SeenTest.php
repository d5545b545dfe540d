<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\GoingOn;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\SlidingWindow;
use Olivine\Core\Formula\TimeReducer;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\AllThatIsThere;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\OtherLimits;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Window;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What is seen of a window, whose limits hold for whom, and how it goes on from here: worked out by hand. */
final class SeenTest extends TestCase
{
    private const MINUTE = 60_000;

    /**
     * @return iterable<string, array{TimeReducer, float, string, int, string}> share that must be seen, a value a minute from minute 0
     *     on (. for none), the minute at which the series was seen first, what is told at each minute
     */
    public static function windows(): iterable
    {
        // Of five minutes four readings are needed: at minute 7 there are those of 3, 4 and 5 only.
        yield 'a gap' => [TimeReducer::Mean, 0.8, '1 1 1 1 1 1 . . 1 1 1 1', -60, '. . . 1 1 1 1 . . . . 1'];
        yield 'half is enough' => [TimeReducer::Mean, 0.5, '1 1 1 1 1 1 . . 1 1 1 1', -60, '. 1 1 1 1 1 1 1 1 1 1 1'];
        yield 'nothing must be seen' => [TimeReducer::Mean, 0.0, '1 . . . . . 1', -60, '1 1 1 1 1 . 1'];
        yield 'a series that is new is judged from its first reading on' => [TimeReducer::Max, 0.8, '. . 3 4 5 6', 2, '. . 3 4 5 6'];
        yield 'one that is new and misses every other' => [TimeReducer::Max, 0.8, '3 . 5 . 7 .', 0, '3 3 5 . . .'];
        yield 'readings are counted however few' => [TimeReducer::Count, 0.8, '1 1 . . . . 1', -60, '1 2 2 2 2 1 1'];
        yield 'the last one is the last one' => [TimeReducer::Last, 0.8, '1 2 . . . 6', -60, '1 2 2 2 2 6'];
        // A counter tells what happened in a gap; from 2 to 7 it grew by 5, and spans all of the window.
        yield 'a counter over a gap' => [TimeReducer::Growth, 0.8, '1 2 . . . . 7', -60, '. . . . . . 5'];
    }

    #[DataProvider('windows')]
    public function testTellsWhereEnoughWasSeen(TimeReducer $reducer, float $share, string $readings, int $bornAt, string $expected): void
    {
        $times = $values = [];
        foreach (explode(' ', $readings) as $minute => $value) {
            if ($value !== '.') {
                $times[] = $minute * self::MINUTE;
                $values[] = (float) $value;
            }
        }
        $window = new Window(LabelSet::none(), $times, $values, Window::STALE_INTERVALS * self::MINUTE, $bornAt * self::MINUTE);
        $instants = range(0, substr_count($readings, ' ') * self::MINUTE, self::MINUTE);
        $told = (new SlidingWindow($window))->reduce($reducer, 5 * self::MINUTE, $instants, null, $share);
        $words = array_map(static fn(?float $value): string => $value === null ? '.' : (string) $value, $told);
        self::assertSame($expected, implode(' ', $words));
    }

    public function testLimitsOfTheirOwnHoldForSome(): void
    {
        $filter = static function (string $where): \Olivine\Core\Formula\Node\Filter {
            $read = Parser::parse("x where {$where}");
            self::assertInstanceOf(Select::class, $read);

            return $read->where ?? self::fail();
        };
        $limits = static fn(Severity $severity, float $limit): Limits => new Limits(Side::Above, [new Level($severity, $limit)], $limit);
        $rule = PlainRules::rule('depth', PlainRules::threshold(Side::Above, 800.0, 800.0), PlainRules::holding(0, 0, 600_000), self::MINUTE);
        $rule = new Rule($rule->watched, $rule->condition, $rule->holding, $rule->step, null, [], [
            new OtherLimits($filter('tier = "1"'), $limits(Severity::Critical, 300.0)),
            new OtherLimits($filter('tier in ("1", "2")'), $limits(Severity::Minor, 500.0)),
        ]);
        $readings = new Readings(180_000);
        foreach (['1', '2', '3'] as $tier) {
            $readings->with('depth', ['tier' => $tier], [0 => 250.0, 60 => 400.0, 120 => 600.0, 180 => 900.0]);
        }
        $raised = self::moves(new RuleEngine(new AllThatIsThere(new Evaluator($readings))), $rule, 180);
        self::assertSame(['60 1 raised critical', '120 2 raised minor', '180 3 raised major'], $raised);
        // Moved, the limits of the others stay where they are.
        $moved = $rule->with(condition: $rule->condition->moved(550.0));
        self::assertSame(
            ['60 1 raised critical', '120 2 raised minor', '120 3 raised major'],
            self::moves(new RuleEngine(new AllThatIsThere(new Evaluator($readings))), $moved, 180),
        );
    }

    /** 600 until minute 5, then 100: the mean of five minutes is 100 when the last 600 has left, at minute 10, and is below 400 from minute 7 on. */
    public function testGoesOnAsItWasReadLast(): void
    {
        $readings = (new Readings(180_000))->with(
            'depth',
            ['queue' => 'a'],
            [0 => 600.0, 60 => 600.0, 120 => 600.0, 180 => 600.0, 240 => 600.0, 300 => 600.0, 360 => 100.0],
        )
            ->with('jobs_total', ['queue' => 'a'], [300 => 50.0, 360 => 62.0]);
        $going = new Evaluator(new GoingOn($readings, 360_000, ['jobs_total']));
        $at = static fn(string $formula, int $minute): ?float => $going->range(
            Parser::parse($formula),
            $minute * self::MINUTE,
            $minute * self::MINUTE,
            1,
        )->lines[0]->values[0] ?? null;
        self::assertSame([500.0, 400.0, 300.0, 200.0, 100.0], array_map(static fn(int $minute): ?float => $at('mean(depth, 5m)', $minute), [6, 7, 8, 9, 10]));
        self::assertEqualsWithDelta(0.2, $at('rate(jobs_total, 5m)', 20), 1e-12, 'a counter goes on growing by twelve a minute');
        $rule = PlainRules::rule('mean(depth, 5m)', PlainRules::threshold(Side::Above, 450.0, 350.0), PlainRules::holding(0, 60_000, 600_000), self::MINUTE);
        $engine = new RuleEngine(new AllThatIsThere($going));
        self::assertSame(['0 a raised major', '480 a easing major', '540 a calm major'], self::moves($engine, $rule, 1_200));
    }

    /** @return list<string> `60 1 raised critical` */
    private static function moves(RuleEngine $engine, Rule $rule, int $throughSecond): array
    {
        $outcome = $engine->run($rule, [], Instant::ofMs(-self::MINUTE), Instant::ofMs($throughSecond * 1000));

        return array_map(
            static fn(AlertTransition $one): string => implode(' ', [
                intdiv($one->transition->at->ms, 1000),
                ...array_values($one->labels->labels),
                $one->transition->to->value,
                $one->transition->severity?->value,
            ]),
            $outcome->transitions,
        );
    }
}
