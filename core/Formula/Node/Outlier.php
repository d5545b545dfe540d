<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** `outlier(x) per service`: how far each series is from the median of its group, in MADs. */
final readonly class Outlier implements Node
{
    public function __construct(public Place $place, public Node $of, public ?Grouping $grouping)
    {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
