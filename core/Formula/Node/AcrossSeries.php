<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

use Olivine\Core\Formula\SetReducer;

/** `sum(x) per host`: one value out of many series at the same instant. */
final readonly class AcrossSeries implements Node
{
    /** @param float|null $parameter the share of a quantile */
    public function __construct(
        public Place $place,
        public SetReducer $reducer,
        public Node $of,
        public ?Grouping $grouping,
        public ?float $parameter = null,
    ) {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
