<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** A literal: its value in base units and, where it was written with one, its unit (`s`, `By` or `1` for a share). */
final readonly class Number implements Node
{
    public function __construct(public Place $place, public float $value, public ?Unit $unit, public string $text)
    {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
