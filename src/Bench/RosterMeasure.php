<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\Coverage;
use Olivine\Core\Delivery\Gather;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\LadderStep;
use Olivine\Core\Delivery\Path;
use Olivine\Core\Delivery\Who;
use Olivine\Core\Roster\DutyHours;
use Olivine\Core\Roster\Handover;
use Olivine\Core\Roster\Roster;
use Olivine\Core\Roster\RosterHistory;
use Olivine\Core\Roster\Rosters;
use Olivine\Core\Roster\Rotation;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;

/** Ten rosters over a year, and who would hear on forty paths in each hour of a fortnight. */
final readonly class RosterMeasure implements Measure
{
    private const ROSTERS = 10;
    private const PATHS = 40;

    public function name(): string
    {
        return 'roster';
    }

    public function run(callable $say): void
    {
        $zone = new \DateTimeZone('Europe/Lisbon');
        $day = WallTimes::day('2026-01-01');
        $from = Instant::of(new \DateTimeImmutable('2026-01-01', $zone));
        $year = $from->plus(Duration::ofDays(365));
        $byName = [];
        $began = hrtime(true);
        $shifts = 0;
        for ($i = 0; $i < self::ROSTERS; ++$i) {
            $roster = new Roster($zone, [
                new Rotation('days', [1, 2, 3], $day, Handover::weekly(1, 480)),
                new Rotation('nights', [4, 5, 6], $day, Handover::every(4, 1_320), new DutyHours(1_320, 360)),
            ]);
            $byName["roster {$i}"] = RosterHistory::always($roster);
            $shifts += count($roster->shifts($from, $year));
        }
        $say('roster.year', (hrtime(true) - $began) / 1e6, 'ms');
        $say('roster.year_shifts', $shifts, '');
        $paths = array_map(static fn(int $i): Path => self::path('roster ' . $i % self::ROSTERS), range(1, self::PATHS));
        $began = hrtime(true);
        $coverage = new Coverage(new Configuration($paths, new Rosters($byName)));
        $stretches = 0;
        foreach ($paths as $path) {
            $stretches += count($coverage->of($path, $from, $from->plus(Duration::ofDays(14))));
        }
        $say('coverage', (hrtime(true) - $began) / 1e6, 'ms');
        $say('coverage_stretches', $stretches, '');
    }

    private static function path(string $roster): Path
    {
        $ladder = new Ladder([
            new LadderStep([Who::onCall($roster)], Duration::ofMinutes(15)),
            new LadderStep([Who::nextOnRoster($roster)], Duration::ofMinutes(15)),
        ]);

        return new Path("by {$roster}", null, null, ['service'], Gather::lasting(Duration::ofSeconds(40)), $ladder);
    }
}
