<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Delivery\AnswerKind;
use Olivine\Core\Delivery\Reply;
use Olivine\Core\Delivery\ShortMessage;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** What a thumb writes back at night, and how long a short message is. */
final class ReplyTest extends TestCase
{
    /** @return iterable<string, array{string, string|null}> what is written; what it says, its code, for how many seconds, and the rest */
    public static function replies(): iterable
    {
        yield 'ok' => ['ok', 'acknowledge'];
        yield 'in capitals, with what a telephone adds' => ['OK. ', 'acknowledge'];
        yield 'with the code' => ['Ok K7q', 'acknowledge k7q'];
        yield 'with the code and a time' => ['ok k7q 2h', 'acknowledge k7q 7200'];
        yield 'a time, and the code after it' => ['ok 45 min k7q', 'acknowledge k7q 2700'];
        yield 'so short a time is five minutes' => ['ok 1m', 'acknowledge 300'];
        yield 'so long a time is a day' => ['ok 999h', 'acknowledge 86400'];
        yield 'what is no time says nothing of how long' => ['ok soon', 'acknowledge [soon]'];
        yield 'yes' => ['yes!', 'acknowledge'];
        yield 'cannot' => ['No', 'cannot'];
        yield 'no that is none' => ['No problem, I am on it', null];
        yield 'take, of what nobody knows' => ['take care', null];
        yield 'cannot, with the code' => ['no k7q', 'cannot k7q'];
        yield 'take' => ['take k7q', 'take k7q'];
        yield 'give' => ['give Tomasz Reyes k7q', 'hand over k7q [Tomasz Reyes]'];
        yield 'give, the code first' => ['give k7q tomasz', 'hand over k7q [tomasz]'];
        yield 'give nobody' => ['give k7q', null];
        yield 'note' => ["note k7q the pump\nis off", 'note k7q [the pump is off]'];
        yield 'a note whose last word looks like a code' => ['note look at gate a3b', 'note [look at gate a3b]'];
        yield 'a note of nothing' => ['note', null];
        yield 'letters that look like others are no code' => ['ok o0l', 'acknowledge [o0l]'];
        yield 'something else' => ['who is this?', null];
        yield 'nothing' => ['   ', null];
        yield 'a key as a text' => ['1', 'acknowledge'];
        yield 'a byte that is no text, after it' => ["ok\xff", 'acknowledge'];
    }

    #[DataProvider('replies')]
    public function testWhatIsWrittenSays(string $text, ?string $said): void
    {
        $reply = Reply::ofText($text);
        $rest = $reply === null || $reply->rest === '' ? '' : "[{$reply->rest}]";
        $all = $reply === null ? [] : [$reply->kind->value, $reply->code, (string) $reply->for?->seconds(), $rest];
        $parts = array_filter($all, static fn(string $one): bool => $one !== '');
        self::assertSame($said, $reply === null ? null : implode(' ', $parts));
    }

    public function testKeysOfACall(): void
    {
        $kinds = array_map(static fn(string $key): ?AnswerKind => Reply::ofKey($key)?->kind, ['1', '2', '3', '4', '*', '', '11']);
        self::assertSame([AnswerKind::Acknowledge, AnswerKind::Take, AnswerKind::Cannot, null, null, null, null], $kinds);
    }

    /** Whatever is written: something that we know, with a code that can be one, or nothing. */
    public function testTenThousandMutatedReplies(): void
    {
        mt_srand((int) (getenv('OLIVINE_SEED') ?: 14));
        $known = 0;
        $pieces = ['', ' ', "\0", "\xff", 'k7q', '2h', 'ok', 'č', '😀', '1', "\n", '-', 'NO', 'take', '999999999999h', str_repeat('x', 2_000)];
        for ($i = 0; $i < 10_000; ++$i) {
            $text = ['ok k7q 2h', 'no', 'give Tomasz k7q', 'note k7q the pump is off', '1'][$i % 5];
            for ($times = mt_rand(1, 5); $times > 0; --$times) {
                $text = substr_replace($text, $pieces[mt_rand(0, count($pieces) - 1)], mt_rand(0, strlen($text)), mt_rand(0, 3));
            }
            $reply = Reply::ofText($text);
            if ($reply !== null) {
                ++$known;
                self::assertTrue($reply->code === '' || Reply::isCode($reply->code), $text);
                self::assertLessThanOrEqual(Reply::LONGEST, mb_strlen($reply->rest));
                self::assertTrue($reply->for === null || ($reply->for->seconds() >= 300 && $reply->for->seconds() <= 86_400), $text);
            }
        }
        self::assertGreaterThan(500, min($known, 10_000 - $known), 'both happened');
    }

    /** @return iterable<string, array{string, bool, int, int}> text, whether all of it is of the plain alphabet, units, parts */
    public static function lengths(): iterable
    {
        yield 'nothing' => ['', true, 0, 1];
        yield 'as long as one part' => [str_repeat('a', 160), true, 160, 1];
        yield 'one more' => [str_repeat('a', 161), true, 161, 2];
        yield 'as long as two parts' => [str_repeat('a', 306), true, 306, 2];
        yield 'one more than two parts' => [str_repeat('a', 307), true, 307, 3];
        yield 'letters that are plain all the same' => ['é ñ Ü ß £ ¿', true, 11, 1];
        yield 'a bracket takes two' => [str_repeat('[', 80), true, 160, 1];
        yield 'the euro takes two' => [str_repeat('a', 159) . '€', true, 161, 2];
        yield 'a pair is not cut: 152 and a bracket take two parts, and the bracket is in the second' => [
            str_repeat('a', 152) . '[' . str_repeat('a', 152),
            true,
            306,
            3,
        ];
        yield 'one letter of another alphabet makes all of it wide' => ['ř' . str_repeat('a', 69), false, 70, 1];
        yield 'one more of these' => ['ř' . str_repeat('a', 70), false, 71, 2];
        yield 'a cedilla in small is none of the plain ones' => ['ç', false, 1, 1];
        yield 'a picture takes a pair' => [str_repeat('😀', 35), false, 70, 1];
        yield 'a pair of those is not cut either' => [str_repeat('a', 66) . '😀' . str_repeat('a', 66), false, 134, 3];
        yield 'a line end is plain' => ["a\nb", true, 3, 1];
    }

    #[DataProvider('lengths')]
    public function testHowLongAShortMessageIs(string $text, bool $isPlain, int $units, int $parts): void
    {
        $message = ShortMessage::of($text);
        self::assertSame([$isPlain, $units, $parts], [$message->isPlain, $message->units, $message->parts]);
    }

    public function testWhatIsTooLongLosesItsMiddleAndKeepsItsEnd(): void
    {
        $whole = ShortMessage::within('Boarding queue: 1,240, above 1,200.', ' Answer: ok k7q', 1);
        self::assertSame('Boarding queue: 1,240, above 1,200. Answer: ok k7q', $whole->text);
        $cut = ShortMessage::within(str_repeat('gate ř ', 200), ' Answer: ok k7q', 2);
        self::assertSame([2, true], [$cut->parts, str_ends_with($cut->text, '... Answer: ok k7q')]);
        self::assertGreaterThan(110, $cut->units, 'as much of it as goes into two parts');
    }
}
