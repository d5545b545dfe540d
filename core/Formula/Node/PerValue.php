<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** `abs(x)`, `clamp(x, 0, 1)`: each value on its own. */
final readonly class PerValue implements Node
{
    /** @param list<float> $arguments */
    public function __construct(public Place $place, public string $function, public Node $of, public array $arguments)
    {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
