<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\BaselineMethod;
use Olivine\Core\Rule\BaselineAdvice;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Window;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class BaselineAdviceTest extends TestCase
{
    /** @return iterable<string, array{list<\Closure(int): (float|null)>, int, string, string}> series by the half hour, how many, what is advised, words */
    public static function pasts(): iterable
    {
        $noise = static fn(int $i, int $seed): float => (float) ((($i * 7_919 + $seed * 104_729) % 21) - 10);
        $day = static fn(int $i): float => 300 + 200 * sin((2 * M_PI * $i) / 48);
        yield 'a day that repeats' => [
            [static fn(int $i): float => $day($i) + $noise($i, 1)],
            14 * 48,
            'same_hour',
            'The same hours of other days suit it best: its day repeats',
        ];
        $week = static fn(int $i): float => $day($i) + (intdiv($i, 48) % 7 === 5 ? 900.0 * sin((2 * M_PI * $i) / 96) ** 2 : 0.0);
        $mostly = static fn(int $i): float => 300.0 + 40.0 * (intdiv($i, 48) % 7) + $noise($i, 2);
        yield 'a week that repeats' => [[$mostly], 28 * 48, 'same_weekday', 'The same hours of the same weekday suit it best: its week repeats'];
        yield 'two weeks are no week that repeats' => [[$mostly], 14 * 48, 'median', 'The median of its past does as well as any'];
        yield 'one day of the week that is otherwise is no reason' => [[$week], 28 * 48, 'same_hour', 'The same hours of other days'];
        yield 'twins that go up and down together, at no hour of the day' => [
            array_map(
                static fn(int $seed): \Closure => static fn(int $i): float => 300 + 200 * sin($i / 17) * sin($i / 5.3) + $noise($i, $seed) / 5,
                [1, 2, 3, 4],
            ),
            14 * 48,
            'twins',
            'Its twins suit it best',
        ];
        yield 'a level that drifts' => [
            [static fn(int $i): float => 3.0 * $i + $noise($i, 3)],
            14 * 48,
            'ewma',
            'A recent average suits it best: its level drifts',
        ];
        yield 'nothing but noise' => [
            [static fn(int $i): float => 100 + $noise($i, 5)],
            14 * 48,
            'median',
            'The median of its past does as well as any',
        ];
        yield 'always the same' => [[static fn(int $i): float => 5.0], 14 * 48, 'median', 'over 13 d 23 h of one series'];
        yield 'a day of history is no day that repeats' => [
            [static fn(int $i): float => $day($i) + $noise($i, 1)],
            48,
            'ewma',
            'over 23 h 30 min of one series',
        ];
        yield 'an hour of history' => [[$day], 3, 'unknown', 'Nobody can tell yet what is usual: there are 1 h of history.'];
        yield 'no series at all' => [[], 0, 'unknown', 'there are 0 s of history'];
        yield 'one of them is silent' => [[$day, static fn(int $i): null => null], 14 * 48, 'same_hour', 'of 2 series'];
    }

    /** @param list<\Closure(int): (float|null)> $series */
    #[DataProvider('pasts')]
    public function testAdvisesWhatLeavesLeast(array $series, int $count, string $advised, string $words): void
    {
        $times = $count === 0 ? [] : range(0, ($count - 1) * BaselineAdvice::STEP_MS, BaselineAdvice::STEP_MS);
        $past = array_map(
            static fn(\Closure $one, int $i): Window => new Window(
                LabelSet::of(['host' => "h{$i}"]),
                $times,
                array_map($one, array_keys($times)),
                BaselineAdvice::STEP_MS,
            ),
            $series,
            array_keys($series),
        );
        $advice = BaselineAdvice::of($past, new \DateTimeZone('UTC'));
        self::assertSame($advised, $advice->isKnown ? $advice->method->value ?? 'twins' : 'unknown');
        self::assertStringContainsString($words, $advice->words());
        self::assertSame($advice->method === BaselineMethod::Median, $advice->left === 1.0);
    }

    /** The example of the class: by day 500, by night 100, give or take 10. */
    public function testMeasuresWhatIsLeft(): void
    {
        $times = range(0, (14 * 48 - 1) * BaselineAdvice::STEP_MS, BaselineAdvice::STEP_MS);
        $values = array_map(
            static fn(int $i): float => ($i % 48 < 24 ? 100.0 : 500.0) + [10.0, -10.0][intdiv($i, 48) % 2],
            array_keys($times),
        );
        $advice = BaselineAdvice::of([new Window(LabelSet::none(), $times, $values, 1)], new \DateTimeZone('UTC'));
        self::assertSame(BaselineMethod::SameHour, $advice->method);
        // Of fourteen days the other thirteen have seven of the other sign, so the middle of them is 20 away.
        self::assertEqualsWithDelta(20 / 200, $advice->left, 0.01);
    }
}
