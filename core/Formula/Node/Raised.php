<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** `raised("Broker down")`: 1 for each label set of that rule while its alert is raised, 0 while it is not. */
final readonly class Raised implements Node
{
    public function __construct(public Place $place, public string $rule)
    {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
