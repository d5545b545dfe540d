<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

use Olivine\Core\Time\WallTimes;

/**
 * Hours to which a rotation is restricted: nights, weekends. From 22:00 to 06:00 goes on after midnight and belongs to the day on which it
 * begins; one stretch lies between two instants, and is nothing where its end is then not after its begin.
 */
final readonly class DutyHours
{
    private const DAY_MINUTES = 1_440;

    /** @var array<int, true> */
    private array $isOn;

    /**
     * @param int       $from of the day, minutes
     * @param int       $to   of the day, or of the next one where that is not after the from
     * @param list<int> $days on which they begin, Monday is 1; none: every day
     */
    public function __construct(public int $from, public int $to, public array $days = [])
    {
        $this->isOn = array_fill_keys($days === [] ? range(1, 7) : $days, true);
    }

    /** @return list<array{int, int}> from and to, ms, of the stretches that touch `[from, to)`, in the order of time, none over another */
    public function stretches(WallTimes $wall, int $fromMs, int $toMs): array
    {
        $stretches = [];
        $endsNextDay = $this->to <= $this->from || $this->to === self::DAY_MINUTES ? 1 : 0;
        $last = intdiv($toMs, 86_400_000) + 1;
        for ($day = intdiv($fromMs, 86_400_000) - 2; $day <= $last; ++$day) {
            if (!isset($this->isOn[Handover::weekdayOf($day)])) {
                continue;
            }
            $begin = $wall->at($day, $this->from);
            $end = $wall->at($day + $endsNextDay, $this->to % self::DAY_MINUTES);
            $before = count($stretches) - 1;
            $begin = $before < 0 ? $begin : max($begin, $stretches[$before][1]);
            if ($end > $begin && $end > $fromMs && $begin < $toMs) {
                $stretches[] = [$begin, $end];
            }
        }

        return $stretches;
    }
}
