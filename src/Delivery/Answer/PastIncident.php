<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** An incident as a list shows it. */
final readonly class PastIncident extends IncidentHead
{
    /** @param int $alerts how many there were */
    public function __construct(IncidentHead $of, public int $alerts)
    {
        parent::__construct(...get_object_vars($of));
    }
}
