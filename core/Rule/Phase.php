<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** Where an alert stands. */
enum Phase: string
{
    case Calm = 'calm';
    /** The condition is true, not yet held long enough. */
    case Building = 'building';
    case Raised = 'raised';
    /** Back within the clear limit, not yet long enough. */
    case Easing = 'easing';
    /** No data. */
    case Blind = 'blind';

    public function isRaised(): bool
    {
        return $this === self::Raised || $this === self::Easing;
    }
}
