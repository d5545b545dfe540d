<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

/** Where a limit lies: what nearly all of the history stayed within, times something, and between two bounds. */
final readonly class LimitsOfHistory
{
    private const DIGITS = 2;

    public function __construct(public float $times, public float $least, public float $most)
    {
    }

    /** With 120 seen, times 1.5 and at least 20, it is 180; of two digits, since no more is meant. */
    public function limit(float $seen): float
    {
        return (float) sprintf('%.' . self::DIGITS . 'g', min($this->most, max($this->least, $seen * $this->times)));
    }
}
