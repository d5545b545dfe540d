<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

use Olivine\Core\Formula\BaselineMethod;

/** `baseline(x, median, 14d)`: what is usual for each series. */
final readonly class Baseline implements Node
{
    public function __construct(public Place $place, public Node $of, public BaselineMethod $method, public int $spanMs)
    {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
