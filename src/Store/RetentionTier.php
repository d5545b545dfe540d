<?php

declare(strict_types=1);

namespace Olivine\App\Store;

/** What is kept for a while each: the readings themselves, and roll-ups of them. */
enum RetentionTier: string
{
    case Readings = 'readings';
    case FiveMinutes = 'fiveMinutes';
    case Hours = 'hours';

    public function usualDays(): int
    {
        return match ($this) {
            self::Readings => 30,
            self::FiveMinutes => 180,
            self::Hours => 1_095,
        };
    }

    /** @return list<string> */
    public function tables(): array
    {
        return match ($this) {
            self::Readings => ['block', 'block_time'],
            self::FiveMinutes => ['rollup_5m', 'rollup_time_5m'],
            self::Hours => ['rollup_1h', 'rollup_time_1h'],
        };
    }
}
