<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Entity\Incident;
use Olivine\App\Delivery\Entity\IncidentAlert;

/** An alert that is raised, in its incident, which is held until the transaction is over. */
final readonly class OpenAlert
{
    public function __construct(public Incident $incident, public IncidentAlert $alert)
    {
    }
}
