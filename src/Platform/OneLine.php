<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

/** Words that others chose, where lines mean something: line breaks and other control signs in them are folded into spaces. */
final class OneLine
{
    /** What breaks lines, what moves about on a terminal, and what turns the direction of reading round. */
    private const BREAKS = '\p{Cc}\p{Zl}\p{Zp}\x{202A}-\x{202E}\x{2066}-\x{2069}';

    public static function of(string $words): string
    {
        return trim((string) preg_replace('~[' . self::BREAKS . ']+~u', ' ', mb_scrub($words)));
    }

    public static function isOne(string $words): bool
    {
        return preg_match('~[' . self::BREAKS . ']~u', $words) !== 1;
    }
}
