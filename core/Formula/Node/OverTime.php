<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

use Olivine\Core\Formula\TimeReducer;

/** `mean(x, 5m)`: each series on its own, over the window that ends at the instant. */
final readonly class OverTime implements Node
{
    /** @param float|null $parameter the share of a quantile, or how many seconds ahead a forecast looks */
    public function __construct(
        public Place $place,
        public TimeReducer $reducer,
        public Node $of,
        public int $windowMs,
        public ?float $parameter = null,
    ) {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
