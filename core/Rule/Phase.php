<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** Where an alert stands. */
enum Phase: string
{
    case Calm = 'calm';
    /** The condition is true, not yet held long enough. */
    case Building = 'building';
    /** Long enough, but something else is raised that explains it; it speaks if it outlasts that. */
    case Held = 'held';
    case Raised = 'raised';
    /** Back within the clear limit, not yet long enough. */
    case Easing = 'easing';
    /** No data. */
    case Blind = 'blind';
    /** Its readings never came back; nobody knows how it is. The end of an alert. */
    case Lost = 'lost';
    /** Somebody paused or removed what it looked at, or changed the rule. The end of an alert, and quiet. */
    case Ended = 'ended';

    public function isOver(): bool
    {
        return $this === self::Lost || $this === self::Ended;
    }

    public function isRaised(): bool
    {
        return $this === self::Raised || $this === self::Easing;
    }
}
