<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

enum IncidentStatus: string
{
    case Open = 'open';
    case Acknowledged = 'acknowledged';
    case Resolved = 'resolved';
}
