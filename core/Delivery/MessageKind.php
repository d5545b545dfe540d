<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** What a message tells. */
enum MessageKind: string
{
    case Raised = 'raised';
    case Worse = 'worse';
    case Recovered = 'recovered';
    case Lost = 'lost';
}
