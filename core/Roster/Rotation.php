<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

use Olivine\Core\Time\WallTimes;

/**
 * People who take turns. Turn k begins at the k-th handover at or after the midnight of the from-day and belongs to the k-th of them,
 * round and round; before the first handover there is nobody. Handovers on days without duty hours count all the same.
 *
 * With Ines and Oyelaran, weekly on Monday 08:00 from Monday 23 November 2026: Ines from then on, Oyelaran from the 30th, Ines again from
 * 7 December.
 */
final readonly class Rotation
{
    /**
     * @param non-empty-list<int> $people  in order
     * @param int                 $fromDay days since 1 January 1970 on the clocks of the roster
     */
    public function __construct(
        public string $name,
        public array $people,
        public int $fromDay,
        public Handover $handover,
        public ?DutyHours $hours = null,
    ) {
    }

    /** @return list<array{int, int, int}> from, to (ms) and whose turn it is, within `[from, to)`, in the order of time, none over another */
    public function turns(WallTimes $wall, int $fromMs, int $toMs): array
    {
        $turns = [];
        $begins = $this->handover->turns($wall, $this->fromDay, $fromMs, $toMs);
        foreach ($begins as $i => [$at, $number]) {
            $from = max($fromMs, $at);
            $to = min($toMs, $begins[$i + 1][0] ?? $toMs);
            if ($to > $from) {
                $turns[] = [$from, $to, $this->people[$number % count($this->people)]];
            }
        }

        return $this->hours === null ? $turns : self::within($turns, $this->hours->stretches($wall, $fromMs, $toMs));
    }

    /**
     * @param list<array{int, int, int}> $turns
     * @param list<array{int, int}>      $stretches
     *
     * @return list<array{int, int, int}>
     */
    private static function within(array $turns, array $stretches): array
    {
        $within = [];
        $next = 0;
        foreach ($turns as [$from, $to, $person]) {
            while (isset($stretches[$next]) && $stretches[$next][1] <= $from) {
                ++$next;
            }
            for ($i = $next; isset($stretches[$i]) && $stretches[$i][0] < $to; ++$i) {
                $within[] = [max($from, $stretches[$i][0]), min($to, $stretches[$i][1]), $person];
            }
        }

        return $within;
    }
}
