<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Platform\FewAnswers;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Cache\Adapter\ArrayAdapter;

/** What is kept is right, soon old, and never much. */
final class FewAnswersTest extends TestCase
{
    public function testTheSameQuestionIsAnsweredOnceAndNoQuestionByTheAnswerOfAnother(): void
    {
        $few = new FewAnswers(new ArrayAdapter());
        $worked = 0;
        $ask = static function (string $question, int $forMs = 60_000) use ($few, &$worked): string {
            return $few->of('test', $question, $forMs, static function () use ($question, &$worked): string {
                ++$worked;

                return "answer to {$question}";
            });
        };
        self::assertSame(['answer to a', 'answer to a'], [$ask('a'), $ask('a')]);
        self::assertSame(1, $worked);
        self::assertSame('answer to a', $ask('a', 0), 'what is too old is worked out anew');
        self::assertSame(2, $worked);
        // Many more questions than places: some share one, and none gets what belongs to another.
        for ($i = 0; $i < 1_000; ++$i) {
            $question = 'q' . $i % 300;
            self::assertSame("answer to {$question}", $ask($question));
        }
    }

    public function testWhatIsAskedOftenTakesNoPlaceFromAnotherKind(): void
    {
        $few = new FewAnswers(new ArrayAdapter());
        $worked = 0;
        $slow = static function () use ($few, &$worked): string {
            return $few->of('slow', 'what is usual', 60_000, static function () use (&$worked): string {
                ++$worked;

                return 'usual';
            });
        };
        $slow();
        for ($i = 0; $i < 10 * FewAnswers::PLACES; ++$i) {
            self::assertSame("quick {$i}", $few->of('quick', "question {$i}", 1_000, static fn(): string => "quick {$i}"));
        }
        self::assertSame('usual', $slow());
        self::assertSame('another', $few->of('quick', 'what is usual', 1_000, static fn(): string => 'another'), 'nor an answer');
        self::assertSame(1, $worked);
    }

    public function testHoweverMuchIsAskedItTakesNoMoreRoom(): void
    {
        $cache = new ArrayAdapter(storeSerialized: true);
        $few = new FewAnswers($cache);
        for ($i = 0; $i < 2_000; ++$i) {
            $few->of('test', "question {$i}", 60_000, static fn(): string => str_repeat('x', $i % 2 === 0 ? 1_000 : FewAnswers::LONGEST_BYTES));
        }
        self::assertLessThanOrEqual(FewAnswers::PLACES, count($cache->getValues()));
        self::assertLessThan(
            FewAnswers::PLACES * 2_000,
            array_sum(array_map(static fn(mixed $value): int => strlen((string) $value), $cache->getValues())),
            'long answers are not kept',
        );
    }
}
