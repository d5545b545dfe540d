<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

final readonly class IncidentDetail extends IncidentHead
{
    /**
     * @param list<IncidentAlert> $alerts
     * @param list<TrailLine>     $trail
     * @param list<ShownTicket>   $tickets that desks keep of it
     * @param UsualThen|null      $usual   of the alert that decides, at the hour at which it was raised
     * @param list<NearChange>    $changes around its onset, the newest first
     */
    public function __construct(
        IncidentHead $of,
        public array $alerts,
        public ?IncidentChart $chart,
        public ?NextRung $next,
        public array $trail,
        public array $tickets,
        public ?UsualThen $usual,
        public array $changes,
    ) {
        parent::__construct(...get_object_vars($of));
    }
}
