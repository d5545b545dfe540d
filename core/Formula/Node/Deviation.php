<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

use Olivine\Core\Formula\Yardstick;

/** `deviation(x, mad, 14d)`: signed distance of each series from its own usual value, in yardsticks. */
final readonly class Deviation implements Node
{
    public function __construct(public Place $place, public Node $of, public Yardstick $yardstick, public int $spanMs)
    {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
