<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Time\Duration;

/**
 * What somebody wrote back, read: a word that says what, the code of the message where there may be several, and what belongs to it.
 *
 * `ok`, `OK k7q`, `ok 2h`: have it (for a time). `take k7q`: take it out of other hands. `no`: cannot, it climbs. `give tomasz k7q`:
 * hand it over. `note k7q the pump is off`: say so.
 */
final readonly class Reply
{
    public const LONGEST = 1_000;
    private const CODE = '~^[a-hjkmnp-z][2-9][a-hjkmnp-z]$~D';
    private const TIME = '~^([1-9]\d{0,2})\s?(m|min|h)$~D';
    /** Other words that people write for these, in a hurry. */
    private const WORDS = [
        'ok' => AnswerKind::Acknowledge,
        'okay' => AnswerKind::Acknowledge,
        'yes' => AnswerKind::Acknowledge,
        '1' => AnswerKind::Acknowledge,
        'take' => AnswerKind::Take,
        '2' => AnswerKind::Take,
        'no' => AnswerKind::Cannot,
        'cannot' => AnswerKind::Cannot,
        '3' => AnswerKind::Cannot,
        'give' => AnswerKind::HandOver,
        'note' => AnswerKind::Note,
    ];
    private const SHORTEST_SECONDS = 300;
    private const LONGEST_SECONDS = 86_400;

    /**
     * @param string        $code "" where none was given
     * @param Duration|null $for  of an acknowledgement; null: until it is over
     * @param string        $rest of handing over the name, of a note its words
     */
    private function __construct(public AnswerKind $kind, public string $code, public ?Duration $for, public string $rest)
    {
    }

    /** @return self|null null where it says nothing that we know */
    public static function ofText(string $text): ?self
    {
        $words = preg_split('~\s+~u', trim(mb_substr(mb_scrub($text), 0, self::LONGEST)), -1, PREG_SPLIT_NO_EMPTY) ?: [];
        $kind = self::WORDS[self::plain(array_shift($words) ?? '')] ?? null;
        if ($kind === null) {
            return null;
        }
        [$code, $words] = self::codeOf($kind, $words);
        [$for, $words] = $kind === AnswerKind::Acknowledge ? self::timeOf($words) : [null, $words];
        $rest = implode(' ', $words);
        // "No problem, I am on it" is no "no".
        $isWhole = match ($kind) {
            AnswerKind::HandOver, AnswerKind::Note => $rest !== '',
            AnswerKind::Cannot, AnswerKind::Take => $rest === '',
            AnswerKind::Acknowledge => true,
        };

        return $isWhole ? new self($kind, $code, $for, $rest) : null;
    }

    /** @return self|null null for a key that says nothing */
    public static function ofKey(string $key): ?self
    {
        $kind = array_find([AnswerKind::Acknowledge, AnswerKind::Take, AnswerKind::Cannot], static fn(AnswerKind $one): bool => $one->key() === $key);

        return $kind === null ? null : new self($kind, '', null, '');
    }

    /** How a short message says that it can be answered: `ok k7q: I have it, no k7q: I cannot`. */
    public static function words(string $code): string
    {
        return "Answer: ok {$code} = I have it, no {$code} = I cannot";
    }

    /** @return bool whether it can be the code of a message: a letter, a digit, a letter, none that looks like another */
    public static function isCode(string $word): bool
    {
        return preg_match(self::CODE, $word) === 1;
    }

    /**
     * The code stands first, or last; in a note only first, as its words are anybody's.
     *
     * @param list<string> $words
     *
     * @return array{string, list<string>}
     */
    private static function codeOf(AnswerKind $kind, array $words): array
    {
        $places = $kind === AnswerKind::Note ? [0] : [0, count($words) - 1];
        foreach ($places as $place) {
            $word = self::plain($words[$place] ?? '');
            if (self::isCode($word)) {
                unset($words[$place]);

                return [$word, array_values($words)];
            }
        }

        return ['', $words];
    }

    /**
     * @param list<string> $words
     *
     * @return array{Duration|null, list<string>}
     */
    private static function timeOf(array $words): array
    {
        if (preg_match(self::TIME, self::plain(implode(' ', array_slice($words, 0, 2))), $time) !== 1) {
            if (preg_match(self::TIME, self::plain($words[0] ?? ''), $time) !== 1) {
                return [null, $words];
            }
        }
        $seconds = (int) $time[1] * ($time[2] === 'h' ? 3_600 : 60);

        return [Duration::ofSeconds(max(self::SHORTEST_SECONDS, min(self::LONGEST_SECONDS, $seconds))), []];
    }

    /** Without what a thumb or a telephone adds. */
    private static function plain(string $word): string
    {
        return mb_strtolower(trim($word, " \t.,;:!?\"'()"));
    }
}
