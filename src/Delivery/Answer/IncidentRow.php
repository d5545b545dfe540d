<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

final readonly class IncidentRow extends IncidentHead
{
    /**
     * @param list<Told> $told
     */
    public function __construct(
        IncidentHead $of,
        public int $alerts,
        public ?IncidentAlert $first,
        public ?NextRung $next,
        public int $open,
        public ?Curve $spark,
        public array $told,
    ) {
        parent::__construct(...get_object_vars($of));
    }
}
