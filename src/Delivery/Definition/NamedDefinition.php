<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

/** A part of the plan that others call by its name. */
interface NamedDefinition
{
    public function name(): string;
}
