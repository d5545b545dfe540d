<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** On which side of the limit the trouble lies. */
enum Direction: string
{
    case Above = 'above';
    case Below = 'below';

    public function isPast(float $value, float $limit): bool
    {
        return $this === self::Above ? $value > $limit : $value < $limit;
    }

    public function isBack(float $value, float $clearLimit): bool
    {
        return $this === self::Above ? $value <= $clearLimit : $value >= $clearLimit;
    }

    public function opposite(): self
    {
        return $this === self::Above ? self::Below : self::Above;
    }
}
