<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** What ends the climbing of a ladder. */
enum EndsWith: string
{
    /** Somebody has it in hand. */
    case Acknowledged = 'acknowledged';
    /** It is over; whoever takes it goes on being told. */
    case Resolved = 'resolved';
}
