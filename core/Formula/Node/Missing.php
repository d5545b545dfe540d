<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** `missing(x, 10m)`: 1 where a series was read in the day before and not in the last 10 m, else 0. */
final readonly class Missing implements Node
{
    public function __construct(public Place $place, public Select $of, public int $windowMs)
    {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
