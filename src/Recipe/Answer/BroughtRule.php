<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Answer;

/** A rule that a recipe brings. */
final readonly class BroughtRule
{
    public function __construct(public string $key, public string $name, public string $because)
    {
    }
}
