<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** Series of one metric, those that pass the filter. */
final readonly class Select implements Node
{
    public function __construct(public Place $place, public string $metric, public ?Filter $where)
    {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
