<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** `share_below(0.3, request_duration_seconds, 5m)`: which part of what a histogram counted was at or under a bound. */
final readonly class ShareBelow implements Node
{
    public function __construct(
        public Place $place,
        public float $bound,
        public Select $of,
        public int $windowMs,
        public ?Grouping $grouping,
    ) {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
