<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** `x ago 7d`: the same formula as it was then. */
final readonly class Ago implements Node
{
    public function __construct(public Place $place, public Node $of, public int $byMs)
    {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
