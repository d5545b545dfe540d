<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\App\Roster\Definition\RosterDefinition;
use Olivine\Core\Time\Instant;

/** One roster over a span. */
final readonly class ShownRoster
{
    /**
     * @param int                       $number    of the revision
     * @param Instant                   $shiftEnds when the shift that is under way ends: a change holds from then on, if nothing else is said
     * @param list<ShownRotation>       $rotations
     * @param list<ShownCover>          $covers
     * @param list<ShownAbsence>        $away
     * @param list<ShownShift>          $shifts    that result
     * @param list<ShownDouble>         $doubles
     * @param list<ShownRosterRevision> $revisions the newest first
     * @param list<ShownReach>          $reach     how those who take turns are reached
     */
    public function __construct(
        public int $id,
        public int $number,
        public RosterDefinition $definition,
        public bool $fromFiles,
        public Instant $from,
        public Instant $to,
        public Instant $now,
        public Instant $shiftEnds,
        public array $rotations,
        public array $covers,
        public array $away,
        public array $shifts,
        public array $doubles,
        public array $revisions,
        public array $reach,
    ) {
    }
}
