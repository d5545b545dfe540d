<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

/** Words that others chose, where lines mean something: line breaks and other control signs in them are folded into spaces. */
final class OneLine
{
    public static function of(string $words): string
    {
        return trim((string) preg_replace('~[\p{Cc}\p{Zl}\p{Zp}]+~u', ' ', mb_scrub($words)));
    }

    public static function isOne(string $words): bool
    {
        return preg_match('~[\p{Cc}\p{Zl}\p{Zp}]~u', $words) !== 1;
    }
}
