<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Delivery\Configuration;
use Olivine\Core\Delivery\CourseReplay;
use Olivine\Core\Delivery\Coverage;
use Olivine\Core\Delivery\Covered;
use Olivine\Core\Delivery\Decision\Tell;
use Olivine\Core\Delivery\Event\AlertRaised;
use Olivine\Core\Delivery\Gather;
use Olivine\Core\Delivery\Ladder;
use Olivine\Core\Delivery\LadderStep;
use Olivine\Core\Delivery\Path;
use Olivine\Core\Delivery\People;
use Olivine\Core\Delivery\Who;
use Olivine\Core\Delivery\Wishes;
use Olivine\Core\Roster\Absence;
use Olivine\Core\Roster\DutyHours;
use Olivine\Core\Roster\Handover;
use Olivine\Core\Roster\Roster;
use Olivine\Core\Roster\RosterHistory;
use Olivine\Core\Roster\Rosters;
use Olivine\Core\Roster\Rotation;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\DailyTimes;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;
use Olivine\Core\Time\WeekHours;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

/** Who would hear at every hour: beside an alert that is raised at each of them. */
final class CoverageTest extends TestCase
{
    private const ZONE = 'Europe/Lisbon';

    /** Ines has the days and is away on Sunday evening; the nights begin at 22:00; the next rung is Tomasz. */
    public function testAGapIsSeenAndWhoHearsInstead(): void
    {
        $steps = [new LadderStep([Who::onCall('piers')], Duration::ofMinutes(15)), new LadderStep([Who::person('t@x')], Duration::none())];
        $path = self::path(new Ladder($steps));
        $covered = (new Coverage(self::configuration($path)))->of($path, self::at('2026-11-29 12:00'), self::at('2026-11-30 12:00'));
        self::assertSame(
            ['Sun 12:00 1', 'Sun 18:00 9 rung 1 reaches nobody: roster piers is nobody', 'Sun 22:00 4', 'Mon 06:00 1'],
            array_map(self::words(...), $covered),
        );
        self::assertSame([false, true, false, false], array_map(static fn(Covered $one): bool => $one->isGap(), $covered));
    }

    public function testALadderThatReachesNobodyIsAGapAndOneOutsideItsHoursIsNot(): void
    {
        $zone = new \DateTimeZone(self::ZONE);
        $ladder = new Ladder([new LadderStep([Who::team('gone')], Duration::ofMinutes(5))]);
        $path = new Path('office', null, new WeekHours([[[1, 2, 3, 4, 5], 480, 1_080]], $zone), ['service'], Gather::lasting(Duration::ofSeconds(30)), $ladder);
        $covered = (new Coverage(self::configuration($path)))->of($path, self::at('2026-11-29 12:00'), self::at('2026-11-30 20:00'));
        self::assertSame([[false, false], [true, true], [false, false]], array_map(static fn(Covered $one): array => [$one->answers, $one->isGap()], $covered));
        self::assertSame(['12:00', '08:00', '18:00'], array_map(static fn(Covered $one): string => $one->from->in($zone)->format('H:i'), $covered));
    }

    /** Whoever owns a rule is not known yet, and is somebody. */
    public function testTheOwnerOfTheRuleIsSomebody(): void
    {
        $path = self::path(new Ladder([new LadderStep([Who::owner()], Duration::ofMinutes(15))]));
        $covered = (new Coverage(self::configuration($path)))->of($path, self::at('2026-11-29 12:00'), self::at('2026-11-30 12:00'));
        self::assertCount(1, $covered);
        self::assertSame([[Coverage::WHOEVER_OWNS_IT, 'e-mail']], $covered[0]->told);
    }

    /** What is less than critical waits in quiet hours, and what is gathered until set times goes to whoever is on call then. */
    public function testQuietHoursAndSetTimes(): void
    {
        $zone = new \DateTimeZone(self::ZONE);
        $quiet = new Wishes([], new WeekHours([[[1, 2, 3, 4, 5, 6, 7], 1_320, 420]], $zone));
        $path = self::path(new Ladder([new LadderStep([Who::person('t@x')], Duration::none())]));
        $configuration = self::configuration($path, new People(['t@x' => 9], wishes: [9 => $quiet]));
        $covered = (new Coverage($configuration))->of($path, self::at('2026-11-30 12:00'), self::at('2026-12-01 12:00'));
        self::assertSame([[[9, 'e-mail']], [], [[9, 'e-mail']]], array_map(static fn(Covered $one): array => $one->told, $covered));
        self::assertSame(self::at('2026-12-01 07:00')->ms, $covered[1]->later[0][1]->ms);
        $critical = (new Coverage($configuration, Severity::Critical))->of($path, self::at('2026-11-30 12:00'), self::at('2026-12-01 12:00'));
        self::assertCount(1, $critical, 'critical ones pass');

        $ladder = new Ladder([new LadderStep([Who::onCall('piers')], Duration::none())]);
        $waits = new Path('morning', null, null, [], Gather::until(new DailyTimes([540], $zone)), $ladder);
        $covered = (new Coverage(self::configuration($waits)))->of($waits, self::at('2026-11-30 00:00'), self::at('2026-12-01 00:00'));
        self::assertSame([[1, 'e-mail']], $covered[0]->told, 'raised in the night of the nights, told at 09:00 to whoever has the day');
    }

    /** Property: whoever a stretch says would hear is whoever an alert raised at any moment of it would have reached, by the replay. */
    public function testEachMomentOfAStretchIsAsItsCourse(): void
    {
        $random = new Randomizer(new Mt19937((int) (getenv('OLIVINE_SEED') ?: 3)));
        for ($round = 0; $round < 12; ++$round) {
            $step = static function () use ($random): LadderStep {
                $who = [Who::onCall('piers'), Who::nextOnRoster('piers'), Who::person('t@x'), Who::team('gone'), Who::onCall('none')][$random->getInt(0, 4)];

                return new LadderStep([$who], Duration::ofMinutes($random->getInt(1, 30)));
            };
            $steps = [$step(), ...array_map($step, range(0, $random->getInt(0, 2)))];
            $path = self::path(new Ladder($steps));
            $configuration = self::configuration($path);
            [$from, $to] = [self::at('2026-11-27 12:00'), self::at('2026-12-02 12:00')];
            $covered = (new Coverage($configuration))->of($path, $from, $to);
            self::assertSame([$from->ms, $to->ms], [$covered[0]->from->ms, $covered[count($covered) - 1]->to->ms]);
            foreach ($covered as $i => $one) {
                self::assertSame($one->to->ms, $covered[$i + 1]->from->ms ?? $to->ms, 'no moment is left out');
                $at = $one->from->plus(Duration::ofMs($random->getInt(0, max(0, $one->to->since($one->from)->ms - 31_000))));
                $replay = new CourseReplay($configuration);
                $replay->happens(new AlertRaised('a', LabelSet::none(), Severity::Major, 'An alert', 'raised'), $at);
                $replay->passTo($at->plus(Duration::ofSeconds(30)));
                $told = [];
                foreach ($replay->courses()[0]->decisions as [, $decision]) {
                    if ($decision instanceof Tell) {
                        $told[] = [$decision->person, $decision->way];
                    }
                }
                self::assertSame($told, $one->told, "round {$round} at {$at->in(new \DateTimeZone(self::ZONE))->format('D H:i')}");
            }
        }
    }

    private static function path(Ladder $ladder): Path
    {
        return new Path('piers', null, null, ['service'], Gather::lasting(Duration::ofSeconds(30)), $ladder);
    }

    private static function configuration(Path $path, People $people = new People(['t@x' => 9])): Configuration
    {
        $day = WallTimes::day('2026-11-23');
        $days = new Rotation('days', [1, 2], $day, Handover::weekly(4, 480));
        $nights = new Rotation('nights', [3, 4], $day, Handover::every(4, 1_320), new DutyHours(1_320, 360));
        $away = new Absence(1, self::at('2026-11-29 18:00'), self::at('2026-11-29 22:00'));
        $roster = new Roster(new \DateTimeZone(self::ZONE), [$days, $nights], [], [$away]);

        return new Configuration([$path], new Rosters(['piers' => RosterHistory::always($roster)]), $people);
    }

    private static function at(string $local): Instant
    {
        return Instant::of(new \DateTimeImmutable($local, new \DateTimeZone(self::ZONE)));
    }

    private static function words(Covered $one): string
    {
        $told = implode(' and ', array_column($one->told, 0));

        return trim("{$one->from->in(new \DateTimeZone(self::ZONE))->format('D H:i')} {$told} " . implode(', ', $one->empty));
    }
}
