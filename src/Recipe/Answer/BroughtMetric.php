<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Answer;

/** A metric that a recipe brings. */
final readonly class BroughtMetric
{
    public function __construct(public string $name, public string $unit, public string $help)
    {
    }
}
