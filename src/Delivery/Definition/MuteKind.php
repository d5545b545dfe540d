<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

/** What hushes. */
enum MuteKind: string
{
    case Mute = 'mute';
    /** Planned, and left out of availability. */
    case Window = 'maintenance';
}
