<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Roster\Handover;
use Olivine\Core\Roster\Roster;
use Olivine\Core\Roster\RosterHistory;
use Olivine\Core\Roster\Rosters;
use Olivine\Core\Roster\Rotation;
use Olivine\Core\Time\WallTimes;

/** Rosters as tests of other things need them. */
final class PlainRosters
{
    /** @param list<int> $people who take turns at 06:00 and 18:00 from that day on; none: no roster */
    public static function turns(array $people, string $from, string $zone = 'UTC'): Rosters
    {
        if ($people === []) {
            return new Rosters();
        }
        $rotation = new Rotation('turns', $people, WallTimes::day($from), Handover::daily(360, 1_080));

        return new Rosters(['turns' => RosterHistory::always(new Roster(new \DateTimeZone($zone), [$rotation]))]);
    }
}
