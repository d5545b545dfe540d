<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Rule\AlertState;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Direction;
use Olivine\Core\Rule\LifeCycle;
use Olivine\Core\Rule\Outcome;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Threshold;
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
        yield 'back while easing stays raised' => ['500 500 500 500 340 390 340 340 340', '0:building 3:raised/major 4:easing/major 5:raised/major 6:easing/major 8:calm/major'];
        yield 'worse while raised' => ['500 500 500 500 1200 500 1500', '0:building 3:raised/major 4:raised/critical'];
        yield 'worst at once' => ['1300 1300 1300 1300', '0:building 3:raised/critical'];
        yield 'a hole while building raises nothing' => ['500 500 . . 500', '0:building 4:raised/major'];
        yield 'blind while calm' => ['100 . . . . . . 100', '6:blind/minor 7:calm/minor'];
        yield 'blind while raised, back above' => ['500 500 500 500 . . . . . . 500', '0:building 3:raised/major 9:blind/major 10:raised/major'];
        yield 'blind while raised, back below' => ['500 500 500 500 . . . . . . 300 300 300', '0:building 3:raised/major 9:blind/major 10:easing/major 12:calm/major'];
        yield 'NaN is no value' => ['100 NAN NAN NAN NAN NAN NAN', '6:blind/minor'];
    }

    #[DataProvider('lives')]
    public function testTheLifeOfAnAlert(string $values, string $expected): void
    {
        $cycle = new LifeCycle(self::threshold());
        $state = AlertState::calm(0);
        $found = [];
        foreach (explode(' ', $values) as $minute => $value) {
            $step = $cycle->step($state, $minute * 60_000, $value === '.' ? null : ($value === 'NAN' ? NAN : (float) $value));
            $state = $step->state;
            if ($step->transition !== null) {
                $found[] = "{$minute}:{$step->transition->to->value}" . ($step->transition->severity === null ? '' : "/{$step->transition->severity->value}");
            }
        }
        self::assertSame($expected, implode(' ', $found));
    }

    public function testBelowIsTheMirrorOfAbove(): void
    {
        mt_srand(2);
        $above = new LifeCycle(self::threshold());
        $below = new LifeCycle(new Threshold(Severity::Major, Direction::Below, -400, 180_000, -350, 120_000, 300_000, Severity::Minor, -1_200, Severity::Critical));
        [$a, $b] = [AlertState::calm(0), AlertState::calm(0)];
        for ($i = 0; $i < 3_000; ++$i) {
            $value = mt_rand(0, 9) === 0 ? null : (float) mt_rand(200, 1_400);
            $a = $above->step($a, $i * 60_000, $value)->state;
            $b = $below->step($b, $i * 60_000, $value === null ? null : -$value)->state;
            self::assertEquals($a, $b);
        }
    }

    /** @return iterable<string, array{\Closure(): Threshold, string}> */
    public static function badRules(): iterable
    {
        yield 'clears beyond the limit' => [static fn(): Threshold => new Threshold(Severity::Major, Direction::Above, 400, 0, 500, 0, 60_000), 'clearLimit'];
        yield 'worse that is not worse' => [static fn(): Threshold => new Threshold(Severity::Major, Direction::Above, 400, 0, 400, 0, 60_000, null, 500, Severity::Minor), 'worseSeverity'];
        yield 'worse on the wrong side' => [static fn(): Threshold => new Threshold(Severity::Major, Direction::Above, 400, 0, 400, 0, 60_000, null, 300, Severity::Critical), 'worseLimit'];
        yield 'a limit of infinity' => [static fn(): Threshold => new Threshold(Severity::Major, Direction::Above, INF, 0, 400, 0, 60_000), 'limit'];
        yield 'a hold of a year' => [static fn(): Threshold => new Threshold(Severity::Major, Direction::Above, 400, 31_536_000_000, 400, 0, 60_000), 'holdSeconds'];
    }

    /** @param \Closure(): Threshold $make */
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
        $engine = new RuleEngine(new Evaluator($readings));
        $formula = Parser::parse('mean(depth, 1m)');
        $whole = $engine->run($formula, self::threshold(), 15_000, [], 0, 20_000_000);
        $alerts = [];
        $transitions = [];
        for ($through = 0; $through < 20_000_000; $through = $next) {
            $next = min(20_000_000, $through + mt_rand(1, 900_000));
            $part = $engine->run($formula, self::threshold(), 15_000, $alerts, $through, $next);
            $alerts = $part->alerts;
            array_push($transitions, ...$part->transitions);
            $through = $next;
        }
        self::assertGreaterThan(20, count($whole->transitions));
        self::assertSame(self::words($whole), self::words(new Outcome($alerts, $transitions)));
        self::assertEquals(array_map(static fn($alert) => $alert->state, $whole->alerts), array_map(static fn($alert) => $alert->state, $alerts));
        self::assertSame(Phase::Blind, $alerts['broker="west"']->state->phase);
    }

    /** @return list<string> */
    private static function words(Outcome $outcome): array
    {
        $words = array_map(static fn(AlertTransition $one): string => sprintf('%012d %s %s>%s %s', $one->transition->atMs, $one->labels->key(), $one->transition->from->value, $one->transition->to->value, json_encode($one->transition->value)), $outcome->transitions);
        sort($words);

        return $words;
    }

    private static function threshold(): Threshold
    {
        return new Threshold(Severity::Major, Direction::Above, 400, 180_000, 350, 120_000, 300_000, Severity::Minor, 1_200, Severity::Critical);
    }
}
