<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/**
 * How near a forecast must come to a limit to be worth working out. A past tells at once how far a forecast can go at most: where that
 * does not come to the limit, nothing else of it matters.
 *
 * By example, a disk at 52 % that lay between 51 and 53 % for four days goes up by less than 15 points in a day, however it is foreseen:
 * a limit of 85 % is out of its reach.
 */
final readonly class Nearness
{
    public function __construct(private float $limit, private bool $isAbove)
    {
    }

    /** @param float $most by how much it can change */
    public function isOutOfReach(float $now, float $most): bool
    {
        return $this->isAbove ? $now + $most < $this->limit : $now - $most > $this->limit;
    }

    public function key(): string
    {
        return ($this->isAbove ? 'above ' : 'below ') . $this->limit;
    }
}
