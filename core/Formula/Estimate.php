<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** About how much a selection is, told without reading it. */
final readonly class Estimate
{
    public function __construct(public int $series, public float $readings)
    {
    }
}
