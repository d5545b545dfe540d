<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** `percentile(95, request_duration_seconds, 5m) per service`: out of the buckets of a histogram. */
final readonly class Percentile implements Node
{
    public function __construct(
        public Place $place,
        public float $percent,
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
