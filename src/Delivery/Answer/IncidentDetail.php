<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

final readonly class IncidentDetail extends IncidentHead
{
    /**
     * @param list<IncidentAlert> $alerts
     * @param list<TrailLine>     $trail
     */
    public function __construct(
        IncidentHead $of,
        public array $alerts,
        public ?IncidentChart $chart,
        public ?NextRung $next,
        public array $trail,
    ) {
        parent::__construct(...get_object_vars($of));
    }
}
