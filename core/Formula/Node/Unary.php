<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** `-x` or `not x`. */
final readonly class Unary implements Node
{
    public function __construct(public Place $place, public string $operator, public Node $of)
    {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
