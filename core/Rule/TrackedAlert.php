<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Series\LabelSet;

/** One rule on one label set. */
final readonly class TrackedAlert
{
    public function __construct(public LabelSet $labels, public AlertState $state)
    {
    }
}
