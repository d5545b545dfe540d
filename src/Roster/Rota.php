<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Olivine\App\People\Repository\PersonRepository;
use Olivine\App\Platform\Settings;
use Olivine\Core\Roster\Handover;
use Olivine\Core\Roster\Roster;
use Olivine\Core\Roster\RosterHistory;
use Olivine\Core\Roster\Rosters;
use Olivine\Core\Roster\Rotation;
use Olivine\Core\Roster\Shift;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;

/** The rota of the people who take turns, on the clocks of the site. */
final readonly class Rota
{
    private const NAME = 'turns';
    private const MINUTES = [360, 1_080];
    private const FROM_DAY = '2026-01-05';

    public function __construct(private PersonRepository $people, private Settings $settings)
    {
    }

    public function rosters(): Rosters
    {
        return self::of($this->people->inTheRota(), $this->settings->zone());
    }

    /** @return list<Shift> those that touch the span; none while nobody takes shifts */
    public function shifts(Instant $from, Instant $to): array
    {
        $people = $this->people->inTheRota();

        return $people === [] ? [] : self::turns($people, $this->settings->zone())->touching($from, $to);
    }

    /** @return list<string> of the rosters that there are */
    public function names(): array
    {
        return $this->people->inTheRota() === [] ? [] : [self::NAME];
    }

    /** Who is on call when a shift ends. */
    public function after(Shift $shift): ?int
    {
        return $this->rosters()->onCall('', $shift->to);
    }

    /** @param list<int> $people in their order; none: no roster */
    public static function of(array $people, \DateTimeZone $zone): Rosters
    {
        return new Rosters($people === [] ? [] : [self::NAME => self::turns($people, $zone)]);
    }

    /** @param non-empty-list<int> $people */
    private static function turns(array $people, \DateTimeZone $zone): RosterHistory
    {
        $rotation = new Rotation(self::NAME, $people, WallTimes::day(self::FROM_DAY), Handover::daily(...self::MINUTES));

        return RosterHistory::always(new Roster($zone, [$rotation]));
    }
}
