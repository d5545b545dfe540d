<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** `now()`: the instant itself, in seconds since 1970. */
final readonly class Now implements Node
{
    public function __construct(public Place $place)
    {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
