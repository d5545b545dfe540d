<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Steady;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\AllThatIsThere;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Sweep;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;

/** Where it makes no difference what a value is, it is not worked out; whatever comes of it is the same, to the last digit. */
final class SteadyTest extends TestCase
{
    private const STEP_S = 15;
    private const INSTANTS = 1_400;

    /** @param list<float> $bounds */
    #[TestWith([[400.0, 300.0], 310.0, 390.0, 1])]
    #[TestWith([[400.0, 300.0], 310.0, 400.0, null])]
    #[TestWith([[400.0, 300.0], 300.0, 310.0, null])]
    #[TestWith([[400.0, 300.0], 401.0, 9e9, 2])]
    #[TestWith([[400.0, 300.0], -5.0, 299.0, 0])]
    #[TestWith([[], -5.0, 299.0, 0])]
    #[TestWith([[0.3], 0.1, 0.30000000000000004, null])]
    public function testTellsBetweenWhichBoundsItLies(array $bounds, float $lowest, float $highest, ?int $place): void
    {
        self::assertSame($place, (new Steady($bounds, 0))->placeOf($lowest, $highest));
    }

    /** @return iterable<string, array{string}> */
    public static function formulas(): iterable
    {
        foreach (['mean', 'min', 'max', 'median', 'last'] as $reducer) {
            yield $reducer => ["{$reducer}(depth, 5m)"];
        }
        yield 'a quantile' => ['quantile(0.9, depth, 3m)'];
    }

    #[DataProvider('formulas')]
    public function testNothingComesOfItOtherwise(string $formula): void
    {
        mt_srand(crc32($formula) + (int) (getenv('OLIVINE_SEED') ?: 1));
        for ($round = 0; $round < 6; ++$round) {
            $readings = (new Readings(3 * self::STEP_S * 1000))->with('depth', ['queue' => 'a'], self::walk())->with('depth', ['queue' => 'b'], self::walk());
            $engine = new RuleEngine(new AllThatIsThere(new Evaluator($readings)));
            $rule = PlainRules::rule(
                $formula,
                PlainRules::threshold(
                    [Side::Above, Side::Below][$round % 2],
                    300.0,
                    300.0 + [-1, 1][$round % 2] * mt_rand(0, 40),
                    $round % 2 === 0 ? 380.0 : 210.0,
                ),
                PlainRules::holding(mt_rand(0, 20) * 15_000, mt_rand(0, 20) * 15_000, 240_000),
                self::STEP_S * 1000,
            );
            $rule = new Rule($rule->watched, $rule->condition, $rule->holding, $rule->step, mustSee: [0.0, 0.8][mt_rand(0, 1)]);
            $stepped = self::words(self::stepped($engine, $rule));
            self::assertNotSame([], $stepped);
            self::assertSame($stepped, self::words($engine->run($rule, [], Instant::ofMs(0), self::end())->transitions), "round {$round}");
            $moved = Sweep::Limit->with($rule, 320.0) ?? self::fail();
            $swept = $engine->sweep([$rule, $moved], Instant::ofMs(0), self::end());
            self::assertSame($stepped, self::words($swept[0]->transitions), "swept in round {$round}");
            self::assertSame(self::words(self::stepped($engine, $moved)), self::words($swept[1]->transitions), "moved in round {$round}");
        }
    }

    /** Two days, of which most hours lie on one side: they are told from their hours, and the others from their readings. */
    public function testHoursThatMakeNoDifferenceAreNotRead(): void
    {
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 1));
        $instants = 11_520;
        $formulas = [
            'mean(depth, 5m)',
            'max(depth where queue != "d", 10m)',
            'depth',
            'mean(depth, 5m) / room',
            'depth / room',
            'depth / max(room, 2m)',
        ];
        $shares = [];
        for ($round = 0; $round < 18; ++$round) {
            $readings = new Readings(3 * self::STEP_S * 1000);
            foreach (['a', 'b', 'c', 'd'] as $queue) {
                $readings->with('depth', ['queue' => $queue, 'kind' => 'x'], self::walk($instants, 0.2));
                $readings->with('room', ['queue' => $queue, 'kind' => 'x'], self::room($instants));
            }
            // Who is paired with whom changes with this one, where it shares nothing with others; not where it is of another queue.
            $changes = $round > 11;
            $readings->with('room', $changes ? [] : ['queue' => 'e'], self::room($instants));
            if ($round > 5) {
                $readings->with('depth', ['queue' => 'd', 'kind' => 'y'], self::walk($instants, 0.2));
            }
            $rule = PlainRules::rule(
                $formulas[$round % 6],
                PlainRules::threshold(Side::Above, 380.0, 340.0, 450.0),
                PlainRules::holding(mt_rand(0, 20) * 15_000, mt_rand(0, 40) * 15_000, 240_000),
                self::STEP_S * 1000,
            );
            $rule = new Rule($rule->watched, $rule->condition, $rule->holding, $rule->step, mustSee: [0.0, 0.8][mt_rand(0, 1)]);
            [$after, $through] = [Instant::ofMs(mt_rand(0, 100) * 15_000), Instant::ofMs($instants * self::STEP_S * 1000)];
            $hourly = new HourlyReadings($readings);
            $all = new HourlyReadings($readings, isRolledUp: false);
            $plain = (new RuleEngine(new AllThatIsThere(new Evaluator($all))))->run($rule, [], $after, $through);
            $told = (new RuleEngine(new AllThatIsThere(new Evaluator($hourly))))->run($rule, [], $after, $through);
            self::assertSame(self::words($plain->transitions), self::words($told->transitions), "round {$round}");
            self::assertEqualsCanonicalizing(array_keys($plain->alerts), array_keys($told->alerts));
            $shares[$round % 6 > 2 ? 'of quotients' : 'of series'][] = $hourly->read / $all->read;
        }
        self::assertLessThan(0.75, array_sum($shares['of series']) / 9, 'much of it was not read');
        self::assertLessThan(0.95, array_sum($shares['of quotients']) / 9, 'of quotients neither');
    }

    /** @return array<int, float> second → a level that walks, with long calm and high stretches, gaps and leaps */
    private static function walk(int $instants = self::INSTANTS, float $pace = 1.0): array
    {
        $values = [];
        $level = 250.0;
        $last = $instants * self::STEP_S;
        for ($second = -600; $second <= $last; $second += self::STEP_S) {
            $level += $pace * mt_rand(-6, 6) + (300 - $level) / 400;
            $level = mt_rand(0, (int) (400 / $pace)) === 0 ? (float) mt_rand(150, 480) : $level;
            if (mt_rand(0, (int) (250 / $pace ** 2)) === 0) {
                $second += self::STEP_S * mt_rand(1, 40);
            }
            $values[$second + mt_rand(0, 3)] = round($level, 1);
        }

        return $values;
    }

    /** @return array<int, float|null> second → mostly one, a little more for a while, and now and then nothing or an end */
    private static function room(int $instants): array
    {
        $values = [];
        $room = 1.0;
        for ($second = -600; $second <= $instants * self::STEP_S; $second += self::STEP_S) {
            $room = mt_rand(0, 2_000) === 0 ? 1.0 + mt_rand(0, 3) / 10 : $room;
            if (mt_rand(0, 8_000) === 0) {
                $second += self::STEP_S * mt_rand(1, 40);
            }
            $values[$second] = mt_rand(0, 8_000) === 0 ? null : $room;
        }

        return $values;
    }

    private static function end(): Instant
    {
        return Instant::ofMs(self::INSTANTS * self::STEP_S * 1000);
    }

    /** @return list<AlertTransition> as one would see them who looks at each instant by itself */
    private static function stepped(RuleEngine $engine, Rule $rule): array
    {
        $transitions = $alerts = [];
        for ($i = 1; $i <= self::INSTANTS; ++$i) {
            $at = Instant::ofMs($i * self::STEP_S * 1000);
            $outcome = $engine->part($rule, $alerts, $at, $at);
            $alerts = $outcome->alerts;
            array_push($transitions, ...$outcome->transitions);
        }

        return $transitions;
    }

    /**
     * @param list<AlertTransition> $transitions
     *
     * @return list<string>
     */
    private static function words(array $transitions): array
    {
        $words = array_map(static function (AlertTransition $one): string {
            $move = $one->transition;

            $phases = "{$move->from->value} {$move->to->value} {$move->severity?->value}";

            return "{$move->at->ms} {$one->labels->get('queue')} {$phases} {$move->value} {$move->onset?->ms}";
        }, $transitions);
        sort($words);

        return $words;
    }
}
