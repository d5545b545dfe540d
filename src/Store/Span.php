<?php

declare(strict_types=1);

namespace Olivine\App\Store;

/** Four hours of readings, half open like a window: `(start, end]`. Blocks and roll-ups begin with these. */
final class Span
{
    public const MS = 14_400_000;
    public const DAY_MS = 86_400_000;

    public static function startOf(int $atMs): int
    {
        return intdiv($atMs - 1, self::MS) * self::MS;
    }

    public static function dayOf(int $atMs): int
    {
        return intdiv($atMs - 1, self::DAY_MS) * self::DAY_MS;
    }
}
