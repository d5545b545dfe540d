<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/**
 * How many parts a short message takes, by the alphabets of 3GPP TS 23.038: 160 letters of seven bits, or 153 a part where there are
 * several; where any letter is none of that alphabet, 70 and 67 of sixteen bits.
 *
 * `gate 3 is down` takes one part of 160. With `ř` in it, it takes one of 70: 71 letters would take two.
 */
final readonly class ShortMessage
{
    private const PLAIN = '@£$¥èéùìòÇ' . "\n" . 'Øø' . "\r" . 'ÅåΔ_ΦΓΛΩΠΨΣΘΞÆæßÉ'
        . ' !"#¤%&\'()*+,-./0123456789:;<=>?¡ABCDEFGHIJKLMNOPQRSTUVWXYZÄÖÑÜ§¿abcdefghijklmnopqrstuvwxyzäöñüà';
    /** These take two places each. */
    private const EXTENDED = '^{}\\[~]|€' . "\f";
    private const ONE_PLAIN = 160;
    private const EACH_PLAIN = 153;
    private const ONE_WIDE = 70;
    private const EACH_WIDE = 67;

    private function __construct(public string $text, public bool $isPlain, public int $units, public int $parts)
    {
    }

    public static function of(string $text): self
    {
        $letters = mb_str_split($text);
        $isPlain = array_all($letters, static fn(string $one): bool => str_contains(self::PLAIN, $one) || str_contains(self::EXTENDED, $one));
        $sizes = array_map(static fn(string $one): int => self::size($one, $isPlain), $letters);
        $units = array_sum($sizes);
        [$alone, $each] = $isPlain ? [self::ONE_PLAIN, self::EACH_PLAIN] : [self::ONE_WIDE, self::EACH_WIDE];

        return new self($text, $isPlain, $units, $units <= $alone ? 1 : self::partsOf($sizes, $each));
    }

    /** The same with as much of its text as goes into so many parts, and what must stand at its end. */
    public static function within(string $text, string $end, int $most): self
    {
        $whole = self::of($text . $end);
        for ($kept = mb_strlen($text); $whole->parts > $most && $kept > 0; $whole = self::of(rtrim(mb_substr($text, 0, $kept)) . '... ' . ltrim($end))) {
            $kept -= max(1, intdiv($kept, 40));
        }

        return $whole;
    }

    private static function size(string $letter, bool $isPlain): int
    {
        return match (true) {
            $isPlain => str_contains(self::EXTENDED, $letter) ? 2 : 1,
            // Beyond the basic plane it takes a pair.
            default => strlen($letter) > 3 ? 2 : 1,
        };
    }

    /**
     * No letter is cut in two between parts.
     *
     * @param list<int> $sizes
     */
    private static function partsOf(array $sizes, int $each): int
    {
        $parts = 1;
        $used = 0;
        foreach ($sizes as $size) {
            if ($used + $size > $each) {
                ++$parts;
                $used = 0;
            }
            $used += $size;
        }

        return $parts;
    }
}
