<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Rule\StoredTransition;
use Olivine\App\Rule\Transitions;
use Olivine\Core\Formula\BaselineMethod;
use Olivine\Core\Formula\UnusualSpan;
use Olivine\Core\Rule\AlertTransition;
use Olivine\Core\Rule\Baseline;
use Olivine\Core\Rule\Condition\Departure;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Rule;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Transition;
use Olivine\Core\Rule\Way;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Tests\Core\PlainRules;
use PHPUnit\Framework\TestCase;

/** The spells that were recorded of a rule, as far back as what is usual looks from the first instant that is judged. */
final class RecordedSpellsTest extends TestCase
{
    private const DAYS = 40;

    public function testALongRunKnowsTheSpellsBeforeItsBeginning(): void
    {
        $transitions = new Transitions(Instance::emptyDatabase('spells'));
        $labels = LabelSet::of(['queue' => 'boarding']);
        $day = static fn(float $day): Instant => Instant::ofMs((int) (1_790_000_000_000 + $day * 86_400_000));
        for ($i = 0; $i < self::DAYS; ++$i) {
            $transitions->add(7, 1, [
                new AlertTransition($labels, new Transition($day($i), Phase::Building, Phase::Raised, Severity::Major, 9.0, $day($i - 0.01))),
                new AlertTransition($labels, new Transition($day($i + 0.1), Phase::Raised, Phase::Calm, Severity::Major, 1.0, $day($i))),
            ]);
        }
        $rule = self::rule(1);
        $begins = static fn(array $spans): array => array_map(
            static fn(UnusualSpan $span): int => intdiv($span->knownMs - $day(0)->ms, 86_400_000),
            $spans,
        );
        $known = static fn(float $from, float $before): array => $begins($transitions->spells(7, $rule, $day($from), $day($before))->of($labels));
        self::assertSame(range(8, 29), $known(10.5, 30), 'a day and twice the span before the first instant, up to the last');
        self::assertSame(range(18, 20), $known(20.5, 20.5), 'live: what matters now');
        self::assertSame([], $transitions->spells(8, $rule, $day(10), $day(30))->of($labels), 'of another rule');
        self::assertSame([], $transitions->spells(7, self::rule(null), $day(10), $day(30))->of($labels), 'to a limit it does not matter');
        $midSpell = $transitions->spells(7, $rule, $day(20), $day(20.05))->of($labels);
        self::assertSame(PHP_INT_MAX, $midSpell[count($midSpell) - 1]->throughMs, 'one that lasted then');
    }

    /** Two rules and thousands of alerts of one instant: each is read once and in order, however many are read at once. */
    public function testWhatHappenedIsReadInPortionsEachOnce(): void
    {
        $database = Instance::emptyDatabase('portions');
        $transitions = new Transitions($database);
        $at = static fn(int $i): Instant => Instant::ofMs(1_790_000_000_000 + 1_000 * $i);
        // 2 at the first instant, 4,501 at the second, one each at eight more.
        $instants = [0, 0, ...array_fill(0, 4_501, 1), ...range(2, 9)];
        foreach (array_chunk(array_keys($instants), 500) as $chunk) {
            $transitions->add($chunk[0] % 2, 1, array_map(
                static fn(int $i): AlertTransition => new AlertTransition(
                    LabelSet::of(['queue' => (string) $i]),
                    new Transition($at($instants[$i]), Phase::Building, Phase::Raised, Severity::Major, (float) $i, $at($instants[$i])),
                ),
                $chunk,
            ));
        }
        $read = static fn(int $after, int $through): array => array_map(
            static fn(StoredTransition $one): int => (int) $one->value,
            iterator_to_array($transitions->between($at($after), $at($through)), false),
        );
        self::assertSame(array_keys($instants), $read(-1, 9), 'all of it');
        self::assertSame(range(2, 4_502), $read(0, 1), 'what happened after the one instant, up to and at the other');
        self::assertSame(range(4_503, 4_510), $read(1, 20));
        self::assertSame([], $read(9, 20));
    }

    private static function rule(?int $days): Rule
    {
        $limits = new Limits(Side::Above, [new Level(Severity::Major, 3.0)], 2.0);
        $condition = $days === null
            ? PlainRules::threshold(Side::Above, 3, 2)
            : new Departure(Baseline::ofPast(BaselineMethod::Mean, Duration::ofDays($days), Duration::ofHours(1)), Way::Rises, $limits);

        return PlainRules::rule('depth', $condition, PlainRules::holding(0, 0, 7_200_000), 60_000);
    }
}
