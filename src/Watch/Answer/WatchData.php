<?php

declare(strict_types=1);

namespace Olivine\App\Watch\Answer;

use Olivine\App\Collect\Answer\CutOff;
use Olivine\App\Collect\Answer\FleetCounts;
use Olivine\App\Collect\Answer\SilentTarget;
use Olivine\App\Delivery\Answer\AwayChannel;
use Olivine\App\Delivery\Answer\HushSpan;
use Olivine\App\Delivery\Answer\IncidentHead;
use Olivine\App\Delivery\Answer\IncidentRow;
use Olivine\App\Platform\Answer\PartReport;
use Olivine\App\Platform\Answer\SetAside;
use Olivine\App\Roster\Answer\OnCall;
use Olivine\App\Rule\Answer\BrokenRule;
use Olivine\App\Rule\Answer\BuildingAlert;
use Olivine\App\Store\Answer\Standstill;
use Olivine\Core\Time\Instant;

final readonly class WatchData
{
    /**
     * @param list<AwayChannel>   $away           Ways to reach people that do not take what they should
     * @param CutOff|null         $cutOff         Places that reach nothing of what is always up
     * @param list<string>        $silentStations Places whose stations should have been heard of since
     * @param list<BuildingAlert> $building
     * @param list<Forecast>      $forecasts
     * @param list<BrokenRule>    $broken         Rules that cannot be evaluated, the longest first
     * @param list<SetAside>      $aside          What a part could not handle and put aside, so that all else goes on
     * @param list<HushSpan>      $hushes         When something was hushed, is, or will be
     * @param list<IncidentRow>   $open
     * @param list<PartReport>    $parts
     * @param list<IncidentHead>  $past
     * @param list<string>        $services
     * @param list<OnCall>        $shifts
     * @param list<SilentTarget>  $silent
     * @param list<Standstill>    $stoodStill     When nobody collected, the newest first
     * @param list<WatchTeam>     $teams
     * @param list<string>        $unheard        Paths whose ladder reaches nobody now
     */
    public function __construct(
        public array $away,
        public ?CutOff $cutOff,
        public array $silentStations,
        public array $building,
        public array $forecasts,
        public array $broken,
        public array $aside,
        public Instant $from,
        public array $hushes,
        public Instant $now,
        public array $open,
        public array $parts,
        public array $past,
        public int $rulesInService,
        public array $services,
        public array $shifts,
        public array $silent,
        public array $stoodStill,
        public FleetCounts $targets,
        public array $teams,
        public Instant $to,
        public array $unheard,
        public string $zone,
    ) {
    }
}
