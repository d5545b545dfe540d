<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\BaselineMethod;
use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Baseline;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Condition\Absence;
use Olivine\Core\Rule\Condition\Change;
use Olivine\Core\Rule\Condition\Departure;
use Olivine\Core\Rule\Condition\Forecast;
use Olivine\Core\Rule\Condition\Threshold;
use Olivine\Core\Rule\Counting;
use Olivine\Core\Rule\Holding;
use Olivine\Core\Rule\Level;
use Olivine\Core\Rule\Limits;
use Olivine\Core\Rule\Sentence\BadSentence;
use Olivine\Core\Rule\Sentence\Raising;
use Olivine\Core\Rule\Sentence\Sentence;
use Olivine\Core\Rule\Sentence\SentenceReader;
use Olivine\Core\Rule\Sentence\SentenceWriter;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;
use Olivine\Core\Rule\Together;
use Olivine\Core\Rule\Way;
use Olivine\Core\Time\Duration;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

final class SentenceTest extends TestCase
{
    /** @return iterable<string, array{Sentence, Condition, Holding, Together|null}> */
    public static function sentences(): iterable
    {
        $limits = static fn(Side $side, float $clear, float $to, Level ...$levels): Limits => new Limits($side, array_values($levels), $clear, $to);
        $major = static fn(float $limit, float $to = INF): Level => new Level(Severity::Major, $limit, $to);
        $minutes = Duration::ofMinutes(...);
        yield 'two severities, cleared elsewhere' => [
            new Sentence(['major' => 'above 400 for 1m', 'critical' => 'above 1200'], 'at or below 300 for 2m', 'minor after 10m, lost after 3d'),
            new Threshold($limits(Side::Above, 300.0, INF, $major(400.0), new Level(Severity::Critical, 1_200.0))),
            new Holding($minutes(1), $minutes(2), $minutes(10), Severity::Minor, Duration::ofDays(3)),
            null,
        ];
        yield 'without a clear limit it clears at the limit, as slowly as it raises' => [
            new Sentence(['major' => 'below 20% for 5m']),
            new Threshold($limits(Side::Below, 0.2, INF, $major(0.2))),
            new Holding($minutes(5), $minutes(5)),
            null,
        ];
        yield 'a range, some of the last looks, at once' => [
            new Sentence(['major' => 'outside -10 to 2GiB at 3 of the last 5 looks'], 'within -5 to 1GiB for 0s'),
            new Threshold($limits(Side::Outside, -5.0, 2.0 ** 30, $major(-10.0, 2.0 ** 31)), new Counting(3, 5)),
            new Holding(Duration::none(), Duration::none()),
            null,
        ];
        yield 'twins, with the least change that matters' => [
            new Sentence(['major' => 'departs from its twins per service, site by 4 for 10m, if at least 15%']),
            new Departure(Baseline::ofTwins(['service', 'site']), Way::Moves, $limits(Side::Above, 4.0, INF, $major(4.0)), 0.15),
            new Holding($minutes(10), $minutes(10)),
            null,
        ];
        yield 'its usual' => [
            new Sentence(
                ['major' => 'departs below its usual (same hours, 14d) by 5 for 20m', 'critical' => 'departs below its usual (same hours, 14d) by 9'],
                'at or below 3',
            ),
            new Departure(
                Baseline::ofPast(BaselineMethod::SameHour, Duration::ofDays(14), Duration::ofDays(1)),
                Way::Falls,
                $limits(Side::Above, 3.0, INF, $major(5.0), new Level(Severity::Critical, 9.0)),
            ),
            new Holding($minutes(20), $minutes(20)),
            null,
        ];
        yield 'its usual week' => [
            new Sentence(['major' => 'departs from its usual (same weekdays of 28d, known for 21d) by 5'], 'at or below 3'),
            new Departure(
                Baseline::ofPast(BaselineMethod::SameWeekday, Duration::ofDays(28), Duration::ofDays(21)),
                Way::Moves,
                $limits(Side::Above, 3.0, INF, $major(5.0)),
            ),
            new Holding(Duration::none(), Duration::none()),
            null,
        ];
        yield 'a disk that fills' => [
            new Sentence(['major' => 'will pass 95% within 24h'], 'at or below 90% for 1h', 'nobody after 30m'),
            new Forecast($limits(Side::Above, 0.9, INF, $major(0.95)), Duration::ofHours(24)),
            new Holding(Duration::none(), Duration::ofHours(1), $minutes(30)),
            null,
        ];
        yield 'a share less than an hour ago, for any of a group' => [
            new Sentence(['major' => 'falls by 20% against 1h ago'], together: 'in 30% or more, at least 2 per site'),
            new Change(Way::Falls, $limits(Side::Above, 0.2, INF, $major(0.2)), Duration::ofHours(1), true),
            new Holding(Duration::none(), Duration::none()),
            new Together(['site'], 2, 0.3),
        ];
        yield 'not seen' => [
            new Sentence(['major' => 'not seen for 10m'], 'for 1m', together: 'in 3 or more'),
            new Absence(Severity::Major),
            new Holding($minutes(10), $minutes(1)),
            new Together([], 3),
        ];
    }

    #[DataProvider('sentences')]
    public function testWordsSayWhatARuleDoes(Sentence $sentence, Condition $condition, Holding $holding, ?Together $together): void
    {
        $raising = SentenceReader::read($sentence);
        self::assertEquals(new Raising($condition, $holding, $together), $raising);
        self::assertEquals($raising, SentenceReader::read(SentenceWriter::of($condition, $holding, $together)), 'as it is written');
    }

    /** @return iterable<string, array{Sentence, string, int, string}> part, offset, message */
    public static function faults(): iterable
    {
        yield 'no severity' => [new Sentence([]), 'raise', 0, 'raise says what is raised at least once'];
        yield 'a severity that is none' => [new Sentence(['majer' => 'above 1']), 'raise.majer', 0, 'there is no severity majer; did you mean major?'];
        yield 'no verb' => [new Sentence(['major' => 'abve 400']), 'raise.major', 0, 'did you mean above?'];
        yield 'no number' => [new Sentence(['major' => 'above much']), 'raise.major', 6, 'here comes a number'];
        yield 'a unit that is none' => [new Sentence(['major' => 'above 4xy for 1m']), 'raise.major', 6, 'xy is no unit'];
        yield 'no duration' => [new Sentence(['major' => 'above 4 for 5']), 'raise.major', 12, 'here comes a duration, such as 5m'];
        yield 'half a range' => [new Sentence(['major' => 'outside 1 or 2']), 'raise.major', 10, 'here comes to, such as outside 10 to 20'];
        yield 'something left' => [
            new Sentence(['major' => 'above 4 for 5m please']),
            'raise.major',
            15,
            'nothing is expected here any more, but there is please',
        ];
        yield 'a method that is none' => [new Sentence(['major' => 'departs from its usual (medain, 14d) by 5']), 'raise.major', 24, 'did you mean median?'];
        yield 'another kind' => [new Sentence(['minor' => 'above 4', 'major' => 'below 2']), 'raise.major', 0, 'in its limit only'];
        yield 'another hold' => [new Sentence(['minor' => 'above 4 for 1m', 'major' => 'above 5 for 2m']), 'raise.major', 0, 'must hold as long'];
        yield 'back on the wrong side' => [new Sentence(['major' => 'above 4'], 'at or above 3'), 'clear', 0, 'nothing is expected here'];
        yield 'unseen by whom' => [new Sentence(['major' => 'above 4'], unseen: 'everybody after 1h'), 'unseen', 0, 'here comes one of nobody'];
        yield 'two and a half' => [new Sentence(['major' => 'above 4'], together: 'in 2.5 or more'), 'together', 7, 'a whole number'];
        yield 'what is no word' => [new Sentence(['major' => 'above 4 €']), 'raise.major', 8, 'Nothing in a formula starts with €'];
    }

    #[DataProvider('faults')]
    public function testAFaultIsToldAtItsPlace(Sentence $sentence, string $part, int $offset, string $message): void
    {
        try {
            SentenceReader::read($sentence);
            self::fail('It was read');
        } catch (BadSentence $fault) {
            self::assertSame([$part, $offset], [$fault->part, $fault->place->offset], $fault->getMessage());
            self::assertStringContainsString($message, $fault->getMessage());
        }
    }

    public function testALimitThatCannotBeIsRefusedByTheRuleItself(): void
    {
        $this->expectException(BadRule::class);
        SentenceReader::read(new Sentence(['minor' => 'above 4', 'major' => 'above 3']));
    }

    public function testAnyRuleIsReadBackAsItWasWritten(): void
    {
        $random = new Randomizer(new Mt19937(11));
        for ($i = 0; $i < 1_000; ++$i) {
            [$condition, $holding, $together] = self::anyRule($random);
            $sentence = SentenceWriter::of($condition, $holding, $together);
            self::assertEquals(new Raising($condition, $holding, $together), SentenceReader::read($sentence), (string) json_encode($sentence));
        }
    }

    public function testMutatedWordsAreReadOrRefusedInOurWords(): void
    {
        $random = new Randomizer(new Mt19937(12));
        $read = 0;
        for ($i = 0; $i < 10_000; ++$i) {
            $sentence = SentenceWriter::of(...self::anyRule($random));
            $parts = [...array_values($sentence->raise), $sentence->clear, $sentence->unseen, $sentence->together];
            $at = $random->getInt(0, count($parts) - 1);
            $parts[$at] = self::mutated($random, $parts[$at]);
            $together = array_pop($parts);
            $unseen = array_pop($parts);
            $clear = array_pop($parts);
            try {
                $raise = array_combine(array_keys($sentence->raise), $parts);
                SentenceReader::read(new Sentence($raise, (string) $clear, (string) $unseen, (string) $together));
                ++$read;
            } catch (BadSentence|BadRule $fault) {
                self::assertNotSame('', $fault->getMessage());
            }
        }
        self::assertGreaterThan(300, $read, 'some mutations are rules still');
        self::assertLessThan(9_500, $read, 'and most are not');
    }

    /** @return array{Condition, Holding, Together|null} */
    private static function anyRule(Randomizer $random): array
    {
        $number = static fn(int $least = -1_000): float => round($random->getInt($least * 100, 100_000) / 100 * 10 ** $random->getInt(-3, 3), 6);
        $duration = static fn(int $least, int $most): Duration => Duration::ofSeconds($random->getInt($least, $most));
        $severities = array_slice([Severity::Warning, Severity::Minor, Severity::Major, Severity::Critical], $random->getInt(0, 3));
        $above = static function (float $first) use ($severities): Limits {
            $levels = [];
            foreach ($severities as $i => $severity) {
                $levels[] = new Level($severity, $first * (1 + $i));
            }

            return new Limits(Side::Above, $levels, $first * 0.75);
        };
        $positive = $number(1);
        $way = Way::cases()[$random->getInt(0, 2)];
        $condition = match ($random->getInt(0, 5)) {
            0 => new Threshold($above($positive), $random->getInt(0, 1) === 0 ? null : new Counting(2, $random->getInt(2, 9))),
            1 => new Threshold(
                new Limits(Side::Outside, [new Level($severities[0], -$positive, 2 * $positive)], -$positive / 2, $positive),
            ),
            2 => new Departure(
                $random->getInt(0, 1) === 0
                    ? Baseline::ofTwins(array_slice(['service', 'if', 'odd name'], 0, $random->getInt(0, 3)))
                    : Baseline::ofPast(BaselineMethod::cases()[$random->getInt(0, 3)], Duration::ofDays($random->getInt(3, 35)), $duration(0, 259_200)),
                $way,
                $above($positive),
                $random->getInt(0, 1) * $positive,
            ),
            3 => new Forecast($above($positive), $duration(300, 1_209_600)),
            4 => new Change($way, $above($positive), $duration(1, 86_400), $random->getInt(0, 1) === 0),
            default => new Absence($severities[0]),
        };
        $blindAfter = $duration(60, 604_800);
        $holding = new Holding(
            $duration(0, 604_800),
            $duration(0, 604_800),
            $blindAfter,
            $random->getInt(0, 1) === 0 ? null : $severities[0],
            $blindAfter->plus($duration(1, 86_400)),
        );
        $share = $random->getInt(0, 1) === 0 ? null : $random->getInt(1, 1_000) / 1_000;

        return [$condition, $holding, $random->getInt(0, 1) === 0 ? null : new Together(['site'], $random->getInt(1, 9), $share)];
    }

    private static function mutated(Randomizer $random, string $text): string
    {
        $words = explode(' ', $text);
        $at = $random->getInt(0, count($words) - 1);
        $other = ['above', '5m', '-', '1e400', '(', ',', 'for', '', '%', "\xff", '0', '99999999999999999999', 'if', '`x', '"'];

        return match ($random->getInt(0, 3)) {
            0 => implode(' ', array_diff_key($words, [$at => 0])),
            1 => implode(' ', array_replace($words, [$at => $other[$random->getInt(0, count($other) - 1)]])),
            2 => substr_replace($text, chr($random->getInt(0, 255)), $random->getInt(0, strlen($text)), $random->getInt(0, 1)),
            default => "{$text} " . $other[$random->getInt(0, count($other) - 1)],
        };
    }
}
