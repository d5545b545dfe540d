<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Formula\TooMuchToRead;
use Olivine\Core\Rule\AlertState;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\AllThatIsThere;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Counting;
use Olivine\Core\Rule\Holding;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\LifeCycle;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Outcome;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Rest;
use Olivine\Core\Rule\Rests;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Step;
use Olivine\Core\Rule\Track;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class RuleTest extends TestCase
{
    /** @return iterable<string, array{string, string}> values a minute apart ("." none), and the transitions as minute:phase */
    public static function lives(): iterable
    {
        yield 'below the limit nothing happens' => ['100 399 400 100', ''];
        yield 'a short peak builds and goes' => ['500 500 100', '0:building 2:calm'];
        yield 'held long enough it raises' => ['500 500 500 500', '0:building 3:raised/major'];
        yield 'between the limits it stays raised' => ['500 500 500 500 390 360 390', '0:building 3:raised/major'];
        yield 'it clears after the clear hold' => ['500 500 500 500 340 340 340 340', '0:building 3:raised/major 4:easing/major 6:calm/major'];
        yield 'back while easing stays raised' => [
            '500 500 500 500 340 390 340 340 340',
            '0:building 3:raised/major 4:easing/major 5:raised/major 6:easing/major 8:calm/major',
        ];
        yield 'worse while raised' => ['500 500 500 500 1201 500 1500', '0:building 3:raised/major 4:raised/critical'];
        yield 'the limit of what is worse is not past it either' => ['500 500 500 500 1200', '0:building 3:raised/major'];
        yield 'milder again after the clear hold' => [
            '1300 1300 1300 1300 500 500 500 1300',
            '0:building 3:raised/critical 6:raised/major 7:raised/critical',
        ];
        yield 'milder, and then neither past nor back' => [
            '1300 1300 1300 1300 500 380 380',
            '0:building 3:raised/critical 6:raised/major',
        ];
        yield 'milder for less than the clear hold' => ['1300 1300 1300 1300 500 500 1300 500 500', '0:building 3:raised/critical'];
        yield 'worst at once' => ['1300 1300 1300 1300', '0:building 3:raised/critical'];
        yield 'a hole while building raises nothing' => ['500 500 . . 500', '0:building 4:raised/major'];
        yield 'blind while calm' => ['100 . . . . . . 100', '6:blind/minor 7:calm/minor'];
        yield 'blind while raised, back above' => ['500 500 500 500 . . . . . . 500', '0:building 3:raised/major 9:blind/major 10:raised/major'];
        yield 'blind while raised, back below' => [
            '500 500 500 500 . . . . . . 300 300 300',
            '0:building 3:raised/major 9:blind/major 10:easing/major 12:calm/major',
        ];
        yield 'two short holes are not one long one' => ['100 . . . 100 . . . 100', ''];
        yield 'a hole while easing clears nothing' => ['500 500 500 500 340 . . 340', '0:building 3:raised/major 4:easing/major 7:calm/major'];
        yield 'blind while building' => ['500 . . . . . . 100', '0:building 6:blind/minor 7:calm/minor'];
        yield 'blind while calm, back above' => ['100 . . . . . . 500 500 500 500', '6:blind/minor 7:building/minor 10:raised/major'];
        yield 'worse while easing' => ['500 500 500 500 340 1300', '0:building 3:raised/major 4:easing/major 5:raised/critical'];
        yield 'easing and back keeps what was worst' => [
            '1300 1300 1300 1300 340 500',
            '0:building 3:raised/critical 4:easing/critical 5:raised/critical',
        ];
        yield 'the limit itself is not past it, the clear limit itself is back' => [
            '400 401 401 401 401 350 350 350',
            '1:building 4:raised/major 5:easing/major 7:calm/major',
        ];
        yield 'NaN is no value' => ['100 NAN NAN NAN NAN NAN NAN', '6:blind/minor'];
    }

    #[DataProvider('lives')]
    public function testTheLifeOfAnAlert(string $values, string $expected): void
    {
        $life = self::life(self::threshold(), PlainRules::holding(180_000, 120_000, 300_000));
        $state = AlertState::calm(Instant::ofMs(0));
        $found = [];
        foreach (explode(' ', $values) as $minute => $value) {
            $step = $life($state, $minute * 60_000, $value === '.' ? null : ($value === 'NAN' ? NAN : (float) $value));
            $state = $step->state;
            if ($step->transition !== null) {
                $found[] =
                    "{$minute}:{$step->transition->to->value}" .
                    ($step->transition->severity === null ? '' : "/{$step->transition->severity->value}");
            }
        }
        self::assertSame($expected, implode(' ', $found));
    }

    public function testWithoutHoldsItRaisesAndClearsAtOnce(): void
    {
        $life = self::life(PlainRules::threshold(Side::Above, 400, 350), PlainRules::holding(0, 0, 300_000));
        $phases = static function (array $values) use ($life): array {
            $state = AlertState::calm(Instant::ofMs(0));
            $phases = [];
            foreach ($values as $minute => $value) {
                $state = $life($state, $minute * 60_000, $value)->state;
                $phases[] = $state->phase->value;
            }

            return $phases;
        };
        self::assertSame(['raised', 'raised', 'calm', 'raised'], $phases([500.0, 380.0, 350.0, 401.0]));
        self::assertSame(
            ['raised', 'raised', 'raised', 'raised', 'raised', 'raised', 'blind', 'calm'],
            $phases([500.0, null, null, null, null, null, null, 300.0]),
            'raised, unseen, and back below',
        );
        self::assertSame('raised', array_slice($phases([100.0, null, null, null, null, null, null, 500.0]), -1)[0], 'calm, unseen, and back above');
    }

    /** Whatever the values: phases follow each other, nothing raises or clears before its hold was seen through, and blind is said when it is due. */
    public function testWhatHoldsForEveryLife(): void
    {
        mt_srand(17);
        $raised = 0;
        for ($round = 0; $round < 300; ++$round) {
            $hold = mt_rand(0, 5) * 60_000;
            $clearHold = mt_rand(0, 4) * 60_000;
            $blindAfter = mt_rand(2, 6) * 60_000;
            $life = self::life(self::threshold(), PlainRules::holding($hold, $clearHold, $blindAfter));
            $state = AlertState::calm(Instant::ofMs(0));
            [$past, $back, $missing, $value] = [null, null, null, 380.0];
            for ($minute = 0; $minute < 200; ++$minute) {
                $at = $minute * 60_000;
                $value = mt_rand(0, 6) === 0 ? (float) mt_rand(200, 1_500) : $value;
                $seen = mt_rand(0, 3) === 0 ? null : $value;
                $missing = $seen === null ? $missing ?? $at : null;
                if ($seen !== null) {
                    // Whoever was blind begins anew.
                    $past = $seen > 400 ? ($state->phase === Phase::Blind ? $at : $past ?? $at) : null;
                    $back = $seen <= 350 ? $back ?? $at : null;
                }
                $step = $life($state, $at, $seen);
                $change = $step->transition;
                if ($change === null) {
                    self::assertSame($state->phase, $step->state->phase);
                } else {
                    self::assertSame([$at, $state->phase, $step->state->phase], [$change->at->ms, $change->from, $change->to]);
                    self::assertNotSame([Phase::Calm, Phase::Calm], [$change->from, $change->to]);
                }
                if ($step->state->phase === Phase::Raised && in_array($state->phase, [Phase::Calm, Phase::Building], true)) {
                    ++$raised;
                    self::assertNotNull($past);
                    self::assertGreaterThanOrEqual($hold, $at - $past, 'it was past the limit for the whole hold');
                    self::assertSame($seen > 1_200 ? Severity::Critical : Severity::Major, $step->state->severity);
                    self::assertSame($past, $step->state->onset?->ms);
                }
                if ($step->state->phase === Phase::Calm && $state->phase === Phase::Easing) {
                    self::assertNotNull($back);
                    self::assertGreaterThanOrEqual($clearHold, $at - $back);
                }
                self::assertSame($missing !== null && $at - $missing >= $blindAfter, $step->state->phase === Phase::Blind);
                $state = $step->state;
            }
        }
        self::assertGreaterThan(500, $raised);
    }

    public function testTheSidesOfALimit(): void
    {
        foreach (
            [
                [Side::Above, 5.0, true, false],
                [Side::Above, 4.0, false, true],
                [Side::Above, 3.0, false, true],
                [Side::Below, 5.0, false, true],
                [Side::Below, 4.0, false, true],
                [Side::Below, 3.0, true, false],
                [Side::Outside, 3.9, true, false],
                [Side::Outside, 4.0, false, true],
                [Side::Outside, 8.0, false, true],
                [Side::Outside, 8.1, true, false],
                [Side::Inside, 4.0, false, true],
                [Side::Inside, 4.1, true, false],
                [Side::Inside, 7.9, true, false],
                [Side::Inside, 8.0, false, true],
            ] as [$side, $value, $past, $back]
        ) {
            $is = [$side->isPast($value, 4.0, 8.0), $side->isBack($value, 4.0, 8.0)];
            self::assertSame([$past, $back], $is, "{$value} {$side->value}");
        }
        foreach (Side::cases() as $side) {
            self::assertSame([false, false], [$side->isPast(NAN, 4.0, 8.0), $side->isBack(NAN, 4.0, 8.0)], 'no number is nowhere');
        }
    }

    public function testBelowIsTheMirrorOfAbove(): void
    {
        mt_srand(2);
        $holding = PlainRules::holding(180_000, 120_000, 300_000);
        $above = self::life(self::threshold(), $holding);
        $below = self::life(PlainRules::threshold(Side::Below, -400, -350, -1_200), $holding);
        [$a, $b] = [AlertState::calm(Instant::ofMs(0)), AlertState::calm(Instant::ofMs(0))];
        for ($i = 0; $i < 3_000; ++$i) {
            $value = mt_rand(0, 9) === 0 ? null : (float) mt_rand(200, 1_400);
            $a = $above($a, $i * 60_000, $value)->state;
            $b = $below($b, $i * 60_000, $value === null ? null : -$value)->state;
            self::assertEquals($a, $b);
        }
    }

    /** @return iterable<string, array{\Closure(): object, string}> */
    public static function badRules(): iterable
    {
        $limits = static fn(Side $side, array $levels, float $clear, float $to = INF): \Closure => static fn(): Limits => new Limits(
            $side,
            array_map(static fn(array $level): Level => new Level(...$level), array_values($levels)),
            $clear,
            $to,
        );
        [$major, $critical] = [Severity::Major, Severity::Critical];
        yield 'no limit' => [$limits(Side::Above, [], 400), 'limits'];
        yield 'clears beyond the limit' => [$limits(Side::Above, [[$major, 400]], 500), 'clear'];
        yield 'clears beyond the range' => [$limits(Side::Outside, [[$major, 100, 200]], 90, 150), 'clear'];
        yield 'clears inside the bad range' => [$limits(Side::Inside, [[$major, 100, 200]], 110, 220), 'clear'];
        yield 'clears nowhere' => [$limits(Side::Above, [[$major, 400]], NAN), 'clear'];
        yield 'graver, and not further out' => [$limits(Side::Above, [[$critical, 300], [$major, 400]], 200), 'limits'];
        yield 'graver, and not further in' => [$limits(Side::Inside, [[$major, 100, 200], [$critical, 120, 210]], 90, 220), 'limits'];
        yield 'one severity twice' => [$limits(Side::Above, [[$major, 300], [$major, 400]], 200), 'limits'];
        yield 'a limit of infinity' => [$limits(Side::Above, [[$major, INF]], 400), 'limits'];
        yield 'a range without its upper end' => [$limits(Side::Outside, [[$major, 100]], 110, 120), 'limits'];
        yield 'a range upside down' => [$limits(Side::Outside, [[$major, 200, 100]], 110, 120), 'limits'];
        yield 'lost before it is blind' => [
            static fn(): Holding => new Holding(Duration::none(), Duration::none(), Duration::ofMinutes(10), lostAfter: Duration::ofMinutes(10)),
            'lostAfterSeconds',
        ];
        yield 'lost after a year' => [
            static fn(): Holding => new Holding(Duration::none(), Duration::none(), lostAfter: Duration::ofDays(365)),
            'lostAfterSeconds',
        ];
        yield 'a hold of a year' => [static fn(): Holding => new Holding(Duration::ofDays(365), Duration::none()), 'holdSeconds'];
        yield 'blind at once' => [
            static fn(): Holding => new Holding(Duration::none(), Duration::none(), Duration::ofSeconds(59)),
            'blindAfterSeconds',
        ];
        yield 'counting none' => [static fn(): Counting => new Counting(0, 5), 'counting'];
        yield 'counting more than there are' => [static fn(): Counting => new Counting(6, 5), 'counting'];
    }

    /** @param \Closure(): object $make */
    #[DataProvider('badRules')]
    public function testARuleThatCannotBeNamesItsField(\Closure $make, string $field): void
    {
        try {
            $make();
            self::fail('It was accepted');
        } catch (BadRule $error) {
            self::assertSame($field, $error->field);
        }
    }

    /** Instants at which nothing happens may be passed over: from each place on, the first that is not is the first whose step changes anything. */
    public function testNothingHappensWhileItIsCalm(): void
    {
        mt_srand(9);
        $kinds = [null, NAN, INF, -INF, 400.0, -0.0, 0.0];
        $moved = 0;
        for ($round = 0; $round < 400; ++$round) {
            [$side, $limit] = [[Side::Above, Side::Below][$round % 2], [400.0, 0.0][mt_rand(0, 1)]];
            $condition = PlainRules::threshold($side, $limit, $limit);
            $life = self::life($condition, PlainRules::holding(mt_rand(0, 1) * 60_000, 0, 60_000, null));
            $calmer = $side === Side::Above ? -1 : 1;
            $values = array_map(
                static fn(): ?float => mt_rand(0, 90) > 0 ? $limit + $calmer * mt_rand(0, 300) : [...$kinds, $limit - $calmer * 0.001][mt_rand(0, 7)],
                range(1, mt_rand(1, 300)),
            );
            $calm = AlertState::calm(Instant::ofMs(0));
            for ($from = 0; $from < count($values); ++$from) {
                for ($first = $from; $first < count($values); ++$first) {
                    $step = $life($calm, 15_000 * $first, $values[$first]);
                    if ($step->state !== $calm || $step->transition !== null) {
                        ++$moved;
                        break;
                    }
                }
                self::assertSame($first, $condition->calmUntil(new Track([$values]), $from));
            }
        }
        self::assertGreaterThan(1_000, $moved);
    }

    /** The same of what is raised: as long as it is as grave, nothing happens. */
    public function testNothingHappensWhileItStaysAsRaised(): void
    {
        mt_srand(10);
        $moved = 0;
        for ($round = 0; $round < 300; ++$round) {
            $side = [Side::Above, Side::Below][$round % 2];
            $calmer = $side === Side::Above ? -1 : 1;
            $condition = PlainRules::threshold($side, 400, 400 + 100 * $calmer, 400 - 200 * $calmer);
            $life = self::life($condition, PlainRules::holding(0, 60_000, 60_000, null));
            $grave = [Severity::Major, Severity::Critical][mt_rand(0, 1)];
            $usual = $grave === Severity::Major ? 500 : 700;
            $odd = [null, NAN, INF, -INF, 400.0, 600.0, 200.0, 300.0];
            $values = array_map(
                static fn(): ?float => mt_rand(0, 90) > 0 ? 400.0 - $calmer * ($usual - 400 + mt_rand(-90, 90)) : $odd[mt_rand(0, 7)],
                range(1, mt_rand(1, 300)),
            );
            $raised = new AlertState(Phase::Raised, Instant::ofMs(0), Instant::ofMs(0), $grave);
            for ($from = 0; $from < count($values); ++$from) {
                for ($first = $from; $first < count($values); ++$first) {
                    $step = $life($raised, 15_000 * $first, $values[$first]);
                    if (!self::isSame($step->state, $raised) || $step->transition !== null) {
                        ++$moved;
                        break;
                    }
                }
                self::assertSame($first, $condition->pastUntil(new Track([$values]), $from, $grave));
            }
        }
        self::assertGreaterThan(1_000, $moved);
    }

    private static function isSame(AlertState $a, AlertState $b): bool
    {
        return serialize($a) === serialize($b);
    }

    public function testARunInPiecesEqualsTheRunInOne(): void
    {
        mt_srand(6);
        $readings = new Readings();
        foreach (['north', 'south', 'west'] as $broker) {
            $values = [];
            $level = 300.0;
            for ($second = 0; $second < 20_000; $second += 15) {
                $level = max(0.0, min(1_500.0, $level + mt_rand(-60, 62)));
                if (mt_rand(0, 30) > 0 && ($broker !== 'west' || $second < 9_000)) {
                    $values[$second] = mt_rand(0, 200) === 0 ? null : $level;
                }
            }
            $readings->with('depth', ['broker' => $broker], $values);
        }
        $engine = new RuleEngine(new AllThatIsThere(new Evaluator($readings)));
        $formula = Parser::parse('mean(depth, 1m)');
        $whole = $engine->run(self::rule($formula, 15_000), [], Instant::ofMs(0), Instant::ofMs(20_000_000));
        $alerts = [];
        $transitions = [];
        for ($through = 0; $through < 20_000_000; $through = $next) {
            $next = min(20_000_000, $through + mt_rand(1, 900_000));
            $part = $engine->run(self::rule($formula, 15_000), $alerts, Instant::ofMs($through), Instant::ofMs($next));
            $alerts = $part->alerts;
            array_push($transitions, ...$part->transitions);
            $through = $next;
        }
        self::assertGreaterThan(20, count($whole->transitions));
        self::assertSame(self::words($whole), self::words(new Outcome($alerts, $transitions, Instant::ofMs(0))));
        self::assertEquals(array_map(static fn($alert) => $alert->state, $whole->alerts), array_map(static fn($alert) => $alert->state, $alerts));
        self::assertSame(Phase::Blind, $alerts['broker="west"']->state->phase);
    }

    /** Label sets come in the middle of a span, are gone for days, and come back: a part of a span at a time, or all of it, tell the same. */
    public function testWhatComesAndGoesIsTheSameHoweverTheSpanIsCut(): void
    {
        mt_srand(3);
        $hour = 3_600;
        $until = 90 * $hour;
        for ($round = 0; $round < 6; ++$round) {
            $readings = new Readings(900_000);
            foreach (range('a', 'f') as $gate) {
                $values = [];
                for ($second = mt_rand(0, 20 * $hour); $second < $until; $second += mt_rand(0, 60) === 0 ? mt_rand(1, 40) * $hour : 300) {
                    $values[$second - ($second % 300)] = mt_rand(0, 40) === 0 ? NAN : (float) mt_rand(300, 460);
                }
                $readings->with('depth', ['gate' => $gate], $values);
            }
            $engine = new RuleEngine(new AllThatIsThere(new Evaluator($readings)));
            $formula = Parser::parse('depth');
            $whole = $engine->run(self::rule($formula, 60_000), [], Instant::ofMs(0), Instant::ofMs($until * 1000));
            $alerts = [];
            $transitions = [];
            for ($through = 0; $through < $until * 1000; $through = $next) {
                $next = min($until * 1000, $through + [60_000, 3_600_000, 40_000_000][mt_rand(0, 2)]);
                $part = $engine->run(self::rule($formula, 60_000), $alerts, Instant::ofMs($through), Instant::ofMs($next));
                $alerts = $part->alerts;
                array_push($transitions, ...$part->transitions);
            }
            self::assertSame(self::words($whole), self::words(new Outcome($alerts, $transitions, Instant::ofMs(0))));
            self::assertEquals($whole->alerts, $alerts);
            $blind = array_filter($whole->transitions, static fn(AlertTransition $one): bool => $one->transition->to === Phase::Blind);
            self::assertNotSame([], $blind);
            foreach ($blind as $one) {
                self::assertNotSame(
                    [],
                    array_filter(
                        $whole->transitions,
                        static fn(AlertTransition $other): bool => $other->transition->at->ms > $one->transition->at->ms
                            && $other->labels->key() === $one->labels->key(),
                    ) ?:
                    $whole->alerts[$one->labels->key()] ?? [],
                    'what went blind comes back, is forgotten a day later, or still is',
                );
            }
        }
    }

    public function testALabelSetIsNotMissedBeforeItWasThereAndLostThreeDaysAfterItWent(): void
    {
        $readings = (new Readings(60_000))
            ->with('depth', ['gate' => 'late'], array_fill_keys(range(40_000, 50_000, 60), 500.0))
            ->with('depth', ['gate' => 'calm'], array_fill_keys(range(40_000, 50_000, 60), 100.0));
        $outcome = (new RuleEngine(new AllThatIsThere(new Evaluator($readings))))->run(
            self::rule('depth', 60_000),
            [],
            Instant::ofMs(0),
            Instant::ofMs(400_000_000),
        );
        self::assertSame(
            [
                '000040020000 gate="late" calm>building 500.0',
                '000040200000 gate="late" building>raised 500.0',
                '000050340000 gate="calm" calm>blind null',
                '000050340000 gate="late" raised>blind null',
                '000309240000 gate="calm" blind>lost null',
                '000309240000 gate="late" blind>lost null',
            ],
            self::words($outcome),
            'blind after five minutes, lost after three days, from the first instant without it',
        );
        self::assertSame([], $outcome->alerts);
        $lost = array_values(array_filter($outcome->transitions, static fn(AlertTransition $one): bool => $one->transition->to === Phase::Lost));
        self::assertSame(
            [Severity::Minor, Severity::Major],
            [$lost[1]->transition->severity, $lost[0]->transition->severity],
            'with the severity that it had',
        );
    }

    /** @return iterable<string, array{string, string}> values a minute apart ("." none, "/" none is expected), and what happens */
    public static function rests(): iterable
    {
        yield 'paused while calm' => ['100 / / / / / / / / 100', ''];
        yield 'paused while raised' => ['500 500 500 500 /', '0:building 3:raised 4:ended (paused)'];
        yield 'paused while building' => ['500 /', '0:building 1:ended (paused)'];
        yield 'paused while easing' => ['500 500 500 500 340 /', '0:building 3:raised 4:easing 5:ended (paused)'];
        yield 'paused when it was blind already' => ['500 500 500 500 . . . . . . /', '0:building 3:raised 9:blind 10:ended (paused)'];
        yield 'goes on anew' => ['500 500 500 500 / / 500 500 500 500', '0:building 3:raised 4:ended (paused) 6:building 9:raised'];
        yield 'stands still while calm' => ['100 - - - - - - - - - 100', ''];
        yield 'stands still while raised' => ['500 500 500 500 - - - - - - - - 500', '0:building 3:raised'];
        yield 'what was missed before a standstill is missed anew after it' => ['100 . . . - - - . . . . . . .', '12:blind'];
        yield 'goes on, and then is missed' => ['100 / / 100 . . . . . .', '9:blind'];
    }

    #[DataProvider('rests')]
    public function testWhatNobodyExpectsIsNotMissed(string $values, string $expected): void
    {
        $readings = [];
        $resting = [];
        foreach (explode(' ', $values) as $minute => $value) {
            match ($value) {
                '/' => $resting[$minute * 60_000] = Rest::taken('paused'),
                '-' => $resting[$minute * 60_000] = Rest::unwatched(),
                '.' => null,
                default => $readings[$minute * 60] = (float) $value,
            };
        }
        $rests = new class ($resting) implements Rests {
            /** @param array<int, Rest> $rests */
            public function __construct(private readonly array $rests)
            {
            }

            public function why(Node $formula, LabelSet $labels, Instant $at): ?Rest
            {
                return $this->rests[$at->ms] ?? null;
            }
        };
        $evaluator = new Evaluator((new Readings(30_000))->with('depth', [], $readings));
        $outcome = (new RuleEngine(new AllThatIsThere($evaluator), $rests))->run(
            self::rule('depth', 60_000),
            [],
            Instant::ofMs(-60_000),
            Instant::ofMs(60_000 * substr_count($values, ' ')),
        );
        $found = array_map(
            static fn(AlertTransition $one): string => intdiv($one->transition->at->ms, 60_000) .
                ":{$one->transition->to->value}" .
                ($one->transition->why === '' ? '' : " ({$one->transition->why})"),
            $outcome->transitions,
        );
        self::assertSame($expected, implode(' ', $found));
    }

    /** A rule far behind asks for less at a time, and says the same as one that looked at each instant in time. */
    public function testARuleFarBehindGoesOnInParts(): void
    {
        $readings = new Readings(60_000);
        foreach (range(1, 40) as $gate) {
            $readings->with(
                'depth',
                ['gate' => (string) $gate],
                array_combine(range(0, 9_000, 30), array_map(static fn(int $i): float => 300.0 + 200 * sin($i / 7 + $gate), range(0, 300))),
            );
        }
        $formula = Parser::parse('mean(depth, 1m)');
        $whole = (new RuleEngine(new AllThatIsThere(new Evaluator($readings))))->run(
            self::rule($formula, 15_000),
            [],
            Instant::ofMs(0),
            Instant::ofMs(9_000_000),
        );
        $small = new Evaluator($readings, mostReadings: 16_000);
        $engine = new RuleEngine(new AllThatIsThere($small));
        self::assertLessThan(600, $small->mostInstants($formula, 15_000, 15_000, 600));
        $inParts = $engine->run(self::rule($formula, 15_000), [], Instant::ofMs(0), Instant::ofMs(9_000_000));
        self::assertSame(self::words($whole), self::words($inParts));
        self::assertGreaterThan(100, count($whole->transitions));
        $this->expectException(TooMuchToRead::class);
        (new RuleEngine(new AllThatIsThere(new Evaluator($readings, mostReadings: 10))))->run(
            self::rule($formula, 15_000),
            [],
            Instant::ofMs(0),
            Instant::ofMs(9_000_000),
        );
    }

    /** @return list<string> */
    private static function words(Outcome $outcome): array
    {
        $words = array_map(
            static fn(AlertTransition $one): string => sprintf(
                '%012d %s %s>%s %s',
                $one->transition->at->ms,
                $one->labels->key(),
                $one->transition->from->value,
                $one->transition->to->value,
                json_encode($one->transition->value, JSON_PRESERVE_ZERO_FRACTION),
            ),
            $outcome->transitions,
        );
        sort($words);

        return $words;
    }

    /** @return \Closure(AlertState, int, ?float): Step one step of an alert by its value at an instant in milliseconds */
    private static function life(Condition $condition, Holding $holding): \Closure
    {
        $cycle = new LifeCycle($holding);

        return static function (AlertState $state, int $ms, ?float $value) use ($condition, $cycle): Step {
            $at = Instant::ofMs($ms);

            return $cycle->step($state, $at, $condition->judge($state->memory, $at, [$value]));
        };
    }

    private static function threshold(): Threshold
    {
        return PlainRules::threshold(Side::Above, 400, 350, 1_200);
    }

    private static function rule(string|Node $watched, int $stepMs): Rule
    {
        return PlainRules::rule($watched, self::threshold(), PlainRules::holding(180_000, 120_000, 300_000), $stepMs);
    }
}
