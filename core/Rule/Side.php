<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/**
 * On which side of a limit the trouble lies. The limit itself is never past it, the clear limit itself is back.
 *
 * A range has two limits, the lower one first; all others have one, and the second is not looked at.
 */
enum Side: string
{
    case Above = 'above';
    case Below = 'below';
    case Outside = 'outside';
    case Inside = 'inside';

    public function isRange(): bool
    {
        return $this === self::Outside || $this === self::Inside;
    }

    public function isPast(float $value, float $limit, float $to = INF): bool
    {
        return match ($this) {
            self::Above => $value > $limit,
            self::Below => $value < $limit,
            self::Outside => $value < $limit || $value > $to,
            self::Inside => $value > $limit && $value < $to,
        };
    }

    public function isBack(float $value, float $clear, float $to = INF): bool
    {
        return match ($this) {
            self::Above => $value <= $clear,
            self::Below => $value >= $clear,
            self::Outside => $value >= $clear && $value <= $to,
            self::Inside => $value <= $clear || $value >= $to,
        };
    }

    /** `at or below 300`: what is back when this is the side of the trouble. */
    public function backWords(): string
    {
        return match ($this) {
            self::Above => 'at or below',
            self::Below => 'at or above',
            self::Outside => 'within',
            self::Inside => 'not within',
        };
    }
}
