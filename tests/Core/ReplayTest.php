<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Rule\AllThatIsThere;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\ComparedSpell;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Outcome;
use Olivine\Core\Rule\RuleEngine;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Spell;
use Olivine\Core\Rule\Spells;
use Olivine\Core\Rule\Sweep;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;
use PHPUnit\Framework\TestCase;

/** What is made of a replay: spells, how they differ, and one setting over many values. */
final class ReplayTest extends TestCase
{
    public function testTransitionsAreGatheredIntoSpells(): void
    {
        $readings = (new Readings(45_000))
            ->with('depth', ['gate' => 'a'], self::shaped('0 500 500 1300 500 0 0 0 0 600 600 600'))
            ->with('depth', ['gate' => 'gone'], self::shaped('0 500 500'));
        $rule = PlainRules::rule('depth', PlainRules::threshold(Side::Above, 400, 300, 1_200), PlainRules::holding(60_000, 0, 120_000), 60_000);
        $outcome = self::engine($readings)->run($rule, [], Instant::ofMs(-60_000), Instant::ofMs(4 * 86_400_000));
        $minute = static fn(?Instant $at): string => $at === null ? '-' : (string) intdiv($at->ms, 60_000);
        $words = array_map(
            static fn(Spell $one): string => implode(' ', [
                $one->labels->get('gate'),
                $minute($one->onset),
                $minute($one->raised),
                $minute($one->cleared),
                $one->severity->value,
            ]),
            Spells::of($outcome->transitions),
        );
        sort($words);
        // What loses its readings for good is over when it is lost, three days after the first look without any.
        self::assertSame(['a 1 2 5 critical', 'a 9 10 4333 major', 'gone 1 2 4324 major'], $words);
    }

    public function testAlertsAreComparedOneByOne(): void
    {
        $spell = static fn(string $gate, int $from, ?int $to): Spell => new Spell(
            LabelSet::of(['gate' => $gate]),
            null,
            Instant::ofMs($from),
            $to === null ? null : Instant::ofMs($to),
            Severity::Major,
        );
        $before = [$spell('a', 10, 20), $spell('a', 30, 40), $spell('b', 10, null), $spell('c', 50, 60), $spell('d', 70, 80)];
        $after = [$spell('a', 12, 18), $spell('a', 28, 29), $spell('a', 30, 41), $spell('b', 8, null), $spell('d', 70, 75), $spell('e', 1, 2)];
        $words = array_map(
            static fn(ComparedSpell $one): string => sprintf(
                '%s %s %s>%s',
                $one->change->value,
                ($one->is ?? $one->was)?->labels->get('gate'),
                $one->was?->raised->ms,
                $one->is?->raised->ms,
            ),
            ComparedSpell::all($before, $after),
        );
        self::assertSame(
            ['kept d 70>70', 'gone c 50>', 'kept a 30>30', 'new a >28', 'later a 10>12', 'sooner b 10>8', 'new e >1'],
            $words,
        );
        self::assertSame([], ComparedSpell::all([], []));
    }

    /** However many values are tried at once, each gives what it gives alone. */
    public function testASweepSaysWhatEachValueSaysAlone(): void
    {
        mt_srand(8);
        $readings = new Readings();
        foreach (range(1, 4) as $gate) {
            $values = [];
            $level = 300.0;
            for ($second = 0; $second < 40_000; $second += 15) {
                $level = max(0.0, min(900.0, $level + mt_rand(-60, 60)));
                $values[$second] = $level;
            }
            $readings->with('depth', ['gate' => (string) $gate], $values);
        }
        $engine = self::engine($readings);
        $rule = PlainRules::rule('mean(depth, 1m)', PlainRules::threshold(Side::Above, 400, 300), PlainRules::holding(60_000, 60_000, 300_000), 15_000);
        /** @var array<string, list<int>> $counts */
        $counts = ['limit' => [], 'hold' => []];
        foreach ([[Sweep::Limit, [100.0, 300.0, 400.0, 500.0, 890.0]], [Sweep::Hold, [0.0, 60.0, 600.0, 3_600.0]]] as [$setting, $values]) {
            $rules = [];
            foreach ($values as $value) {
                $with = $setting->with($rule, $value);
                self::assertNotNull($with);
                $rules[] = $with;
            }
            foreach ($engine->sweep($rules, Instant::ofMs(0), Instant::ofMs(40_000_000)) as $i => $outcome) {
                $alone = $engine->run($rules[$i] ?? self::fail('one too many'), [], Instant::ofMs(0), Instant::ofMs(40_000_000));
                self::assertEquals(self::sorted($alone), self::sorted($outcome));
                $counts[$setting->value][] = count(Spells::of($outcome->transitions));
            }
        }
        self::assertGreaterThan(20, $counts['limit'][2]);
        self::assertLessThan($counts['hold'][0], $counts['hold'][3]);
    }

    public function testNamesTheStretchesWhereNothingChanges(): void
    {
        $counts = [[300.0, 4], [330.0, 3], [380.0, 3], [430.0, 3], [480.0, 2], [500.0, 2], [900.0, 0], [1_000.0, 0], [1_100.0, 0]];
        self::assertSame([[900.0, 1_100.0, 0], [330.0, 430.0, 3]], Sweep::flats($counts));
        self::assertSame([], Sweep::flats([]));
        self::assertSame([[1.0, 3.0, 7]], Sweep::flats([[1.0, 7], [2.0, 7], [3.0, 7]]));
    }

    public function testALimitIsMovedWithWhatBelongsToIt(): void
    {
        $limits = new Limits(Side::Above, [new Level(Severity::Major, 400), new Level(Severity::Critical, 1_200)], 300);
        $moved = $limits->moved(800);
        self::assertSame([800.0, 600.0, 1_200.0], [$moved->mildest->limit, $moved->clear, $moved->levels[1]->limit]);
        self::assertCount(1, $limits->moved(1_200)->levels, 'what would not lie further any more is left out');
        $below = new Limits(Side::Below, [new Level(Severity::Major, 40), new Level(Severity::Critical, 10)], 50);
        self::assertSame([20.0, 25.0, 2], [$below->moved(20)->mildest->limit, $below->moved(20)->clear, count($below->moved(20)->levels)]);
        self::assertNull(Sweep::Hold->with(PlainRules::rule('x', PlainRules::threshold(Side::Above, 1, 0), PlainRules::holding(0, 0, 60_000), 15_000), 1e9));
        $this->expectException(BadRule::class);
        (new Limits(Side::Outside, [new Level(Severity::Major, 1, 2)], 1, 2))->moved(3);
    }

    /** @return array<int, float> second → value, a minute apart */
    private static function shaped(string $values): array
    {
        $shaped = [];
        foreach (explode(' ', $values) as $minute => $value) {
            $shaped += array_fill_keys(range($minute * 60, $minute * 60 + 45, 15), (float) $value);
        }

        return $shaped;
    }

    private static function engine(Readings $readings): RuleEngine
    {
        return new RuleEngine(new AllThatIsThere(new Evaluator($readings)));
    }

    /** @return list<string> */
    private static function sorted(Outcome $outcome): array
    {
        $words = array_map(serialize(...), $outcome->transitions);
        sort($words);

        return $words;
    }
}
