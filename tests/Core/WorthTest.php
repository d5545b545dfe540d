<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Rule\AllThatIsThere;
use Olivine\Core\Rule\Flapping;
use Olivine\Core\Rule\Judged;
use Olivine\Core\Rule\Mark;
use Olivine\Core\Rule\Proposal;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Spell;
use Olivine\Core\Rule\Spells;
use Olivine\Core\Rule\Tried;
use Olivine\Core\Rule\Worth;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What past alerts were worth, and the settings that follow. */
final class WorthTest extends TestCase
{
    public function testCountsWhatIsKeptAndWhatIsLeftOfTheNoise(): void
    {
        $marks = [
            new Mark(self::spell('a', 10, 20), Worth::Useful),
            new Mark(self::spell('a', 40, 45), Worth::Noise),
            new Mark(self::spell('b', 10, 12), Worth::Useful),
            new Mark(self::spell('b', 50, 55), Worth::Noise),
        ];
        // a useful one a minute later, the noise of a is gone, b is raised all the time: useful, whatever else was said of it.
        $judged = Judged::of([self::spell('a', 11, 19), self::spell('b', 10, null), self::spell('c', 10, 11)], $marks);
        self::assertSame([2, 0, 0, 1, 60_000], [$judged->useful, $judged->lost, $judged->noise, $judged->unmarked, $judged->later->ms]);
        $judged = Judged::of([self::spell('a', 41, 42), self::spell('b', 54, 60)], $marks);
        self::assertSame([0, 2, 2, 0, 0], [$judged->useful, $judged->lost, $judged->noise, $judged->unmarked, $judged->later->ms]);
    }

    /** @return iterable<string, array{list<array{float, int, int, int}>, array{float, int}|null}> limit, hold in min, lost, others; what is proposed */
    public static function trials(): iterable
    {
        yield 'the middle of the longest stretch' => [
            [[300, 1, 0, 4], [320, 1, 0, 0], [340, 1, 0, 3], [360, 1, 0, 0], [380, 1, 0, 0], [400, 1, 0, 0], [420, 1, 1, 0]],
            [380.0, 1],
        ];
        yield 'of two in the middle the nearer one' => [[[500, 1, 0, 1], [600, 1, 0, 0], [700, 1, 0, 0], [800, 1, 0, 1]], [600.0, 1]];
        yield 'as good, but sooner' => [[[400, 1, 0, 2], [400, 5, 0, 0], [400, 3, 0, 0]], [400.0, 3]];
        yield 'a useful one is worth any noise' => [[[900, 1, 1, 0], [400, 1, 0, 5]], null];
        yield 'the useful ones that are lost by now come back' => [[[100, 1, 0, 9]], null];
        yield 'nothing is better' => [[[300, 1, 0, 9], [500, 1, 0, 3]], null];
    }

    /**
     * @param list<array{float, int, int, int}> $tried
     * @param array{float, int}|null            $proposed
     */
    #[DataProvider('trials')]
    public function testProposesWhatKeepsTheUsefulOnesWithTheFewestOthers(array $tried, ?array $proposed): void
    {
        $of = static function (float $limit, int $minutes, int $lost, int $others): Tried {
            $useful = array_map(static fn(int $i): Mark => new Mark(self::spell("lost {$i}", 1, 2), Worth::Useful), $lost === 0 ? [] : range(1, $lost));
            $spells = array_map(static fn(int $i): Spell => self::spell("other {$i}", 1, 2), $others === 0 ? [] : range(1, $others));

            return new Tried($limit, Duration::ofMinutes($minutes), Judged::of($spells, $useful), $others);
        };
        $now = $of(400.0, 1, 0, 3);
        $proposal = Proposal::of($now, array_map(static fn(array $one): Tried => $of(...$one), $tried), 4);
        self::assertSame($proposed, $proposal === null ? null : [$proposal->best->limit, intdiv($proposal->best->hold->seconds(), 60)]);
        self::assertSame('from 4 marks, a first guess', $proposal?->sureness() ?? 'from 4 marks, a first guess');
    }

    public function testAnAlertThatComesAndGoesIsNamedWithTheClearHoldThatWouldHaveMadeItOne(): void
    {
        $holding = PlainRules::holding(60_000, 120_000, 600_000);
        $spells = [self::spell('a', 0, 5), self::spell('a', 12, 17), self::spell('a', 20, 25), self::spell('a', 41, 46), self::spell('b', 0, 5)];
        $found = Flapping::of($spells, $holding, Duration::ofSeconds(15));
        self::assertCount(1, $found);
        // 16 min from 25 to 41, the clear hold of 2 before it, and one look.
        self::assertSame([4, 18 * 60_000 + 15_000, 'a'], [$found[0]->times, $found[0]->clearHold->ms, $found[0]->labels->get('gate')]);
        self::assertSame([], Flapping::of(array_slice($spells, 0, 3), $holding, Duration::ofSeconds(15)), 'three times is no habit');
        self::assertSame(
            [],
            Flapping::of([...array_slice($spells, 0, 3), self::spell('a', 60, 61)], $holding, Duration::ofSeconds(15)),
            'calm for half an hour',
        );
    }

    /** What is said of a clear hold is what the engine says. */
    public function testWithThatClearHoldItIsOneAlert(): void
    {
        mt_srand(3);
        $runs = 0;
        for ($i = 0; $i < 60; ++$i) {
            $readings = new Readings();
            $values = [];
            for ($second = 0; $second < 20_000; $second += 15) {
                $values[$second] = (float) (intdiv($second, mt_rand(300, 900)) % 2) * 500;
            }
            $readings->with('depth', ['gate' => 'a'], $values);
            $rule = static fn(int $clearMs): Rule => PlainRules::rule(
                'depth',
                PlainRules::threshold(Side::Above, 400, 400),
                PlainRules::holding(30_000, $clearMs, 600_000),
                15_000,
            );
            $spells = static fn(int $clearMs): array => Spells::of(
                (new RuleEngine(new AllThatIsThere(new Evaluator($readings))))->run(
                    $rule($clearMs),
                    [],
                    Instant::ofMs(0),
                    Instant::ofMs(20_000_000),
                )->transitions,
            );
            foreach (Flapping::of($spells(60_000), $rule(60_000)->holding, $rule(60_000)->step) as $found) {
                ++$runs;
                $within = array_filter(
                    $spells($found->clearHold->ms),
                    static fn(Spell $spell): bool => !$spell->raised->isAfter($found->to)
                        && ($spell->cleared === null || !$spell->cleared->isBefore($found->from)),
                );
                self::assertCount(1, $within);
            }
        }
        self::assertGreaterThan(20, $runs);
    }

    private static function spell(string $gate, int $raisedMinute, ?int $clearedMinute): Spell
    {
        $at = static fn(int $minute): Instant => Instant::ofMs($minute * 60_000);

        return new Spell(
            LabelSet::of(['gate' => $gate]),
            $at($raisedMinute),
            $at($raisedMinute),
            $clearedMinute === null ? null : $at($clearedMinute),
            Severity::Minor,
        );
    }
}
