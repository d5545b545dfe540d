<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Series\LabelSet;

/** What happened to which alert. */
final readonly class AlertTransition
{
    public function __construct(public LabelSet $labels, public Transition $transition)
    {
    }
}
