<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** What one instant made of an alert. */
final readonly class Step
{
    public function __construct(public AlertState $state, public ?Transition $transition = null)
    {
    }
}
