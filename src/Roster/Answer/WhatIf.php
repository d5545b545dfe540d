<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

/** The next quarter as it is and as it would be; nothing is saved. */
final readonly class WhatIf
{
    /**
     * @param Instant          $holdsFrom  from when on it would hold
     * @param list<ShownShift> $shifts     of the next fortnight, as they would be
     * @param list<ShownShift> $gaps       of the quarter, as they would be
     * @param bool             $changesNow whether somebody else would be on call at once
     */
    public function __construct(
        public Instant $holdsFrom,
        public ShownFairness $today,
        public ShownFairness $then,
        public array $shifts,
        public array $gaps,
        public bool $changesNow,
    ) {
    }
}
