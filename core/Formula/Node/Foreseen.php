<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

use Olivine\Core\Formula\ForeseenPart;

/** How high or low each series will go within a time, by its own past. Rules look at it; it has no word in formulas. */
final readonly class Foreseen implements Node
{
    /** @param int $spanMs of the past it is foreseen from */
    public function __construct(public Node $of, public int $withinMs, public int $spanMs, public ForeseenPart $part)
    {
    }

    public function place(): Place
    {
        return $this->of->place();
    }
}
