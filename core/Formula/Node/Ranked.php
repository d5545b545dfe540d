<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** `top(5, x) per site`: at each instant the highest (or lowest) few series of a group, with all their labels. */
final readonly class Ranked implements Node
{
    public function __construct(
        public Place $place,
        public bool $highest,
        public int $count,
        public Node $of,
        public ?Grouping $grouping,
    ) {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
