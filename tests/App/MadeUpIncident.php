<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Delivery\Entity\Incident;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;

/** An incident that is kept nowhere: of messages only its number counts. */
final class MadeUpIncident
{
    public static function numbered(int $id): Incident
    {
        $incident = new Incident('made up', 'made up', 'Made up', Severity::Major, Instant::ofMs(0), false);
        $incident->id = $id;

        return $incident;
    }
}
