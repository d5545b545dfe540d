<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** `age(x)`: seconds since the newest reading of each series, as far as a day back. */
final readonly class Age implements Node
{
    public function __construct(public Place $place, public Select $of)
    {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
