<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

/** What a message tells. */
enum DeliveryKind: string
{
    case Raised = 'raised';
    case Worse = 'worse';
    case Recovered = 'recovered';
    case Lost = 'lost';
}
