<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;

/**
 * How evenly a roster was carried: hours, nights, weekend days, holidays and wakings of each person, and one plain figure.
 *
 * A night is 22:00 to 06:00 on the clocks of the roster, and counts for whoever had half of it or more; so does a Saturday, a Sunday
 * and a holiday, midnight to midnight. By example, of 90 nights Tomasz had 31, Mei-Lin 28, Sunniva 24 and Ines 7: an even share of those
 * four is 22.5, and 31 is 1.4 times that; Oyelaran, who takes none, takes no part in it.
 */
final readonly class Fairness
{
    private const NIGHT_FROM = 1_320;
    private const NIGHT_TO = 360;
    private const HOUR_MS = 3_600_000;
    /** Under so many of a thing, one more is chance and not unfair. */
    private const LEAST_COUNTED = 4;

    /** @param list<FairShare> $shares of everybody who takes turns, the most hours first */
    private function __construct(public array $shares)
    {
    }

    /**
     * @param list<Shift>               $shifts   of a span, in the order of time
     * @param list<int>                 $people   who take turns; whoever stood in comes to them
     * @param list<string>              $holidays days: 2026-12-25, or 12-25 of each year
     * @param list<array{int, Instant}> $wakings  who was rung, and when: in the night it counts
     */
    public static function of(array $shifts, array $people, \DateTimeZone $zone, array $holidays = [], array $wakings = []): self
    {
        $wall = new WallTimes($zone);
        $zero = array_fill_keys($people, 0);
        $hours = $nights = $weekends = $off = $woken = $zero;
        $span = $shifts === [] ? null : [$shifts[0]->from, $shifts[count($shifts) - 1]->to];
        foreach ($shifts as $shift) {
            if ($shift->person !== null) {
                $hours[$shift->person] = ($hours[$shift->person] ?? 0) + $shift->to->since($shift->from)->ms / self::HOUR_MS;
            }
        }
        $isHoliday = array_fill_keys($holidays, true);
        $place = 0;
        for ($day = $span === null ? 1 : $wall->dayOf($span[0]), $last = $span === null ? 0 : $wall->dayOf($span[1]); $day <= $last; ++$day) {
            while (isset($shifts[$place + 1]) && $shifts[$place]->to->ms <= $wall->at($day, 0)) {
                ++$place;
            }
            $bearers = self::bearers($shifts, $place, $wall->at($day, self::NIGHT_FROM), $wall->at($day + 1, self::NIGHT_TO));
            $nights = self::counted($nights, $bearers);
            $date = gmdate('Y-m-d', $day * 86_400);
            $isWeekend = Handover::weekdayOf($day) > 5;
            if ($isWeekend || isset($isHoliday[$date]) || isset($isHoliday[substr($date, 5)])) {
                $bearers = self::bearers($shifts, $place, $wall->at($day, 0), $wall->at($day + 1, 0));
                $weekends = $isWeekend ? self::counted($weekends, $bearers) : $weekends;
                $off = isset($isHoliday[$date]) || isset($isHoliday[substr($date, 5)]) ? self::counted($off, $bearers) : $off;
            }
        }
        foreach ($wakings as [$person, $at]) {
            $minute = intdiv($at->ms - $wall->at($wall->dayOf($at), 0), 60_000);
            if ($minute >= self::NIGHT_FROM || $minute < self::NIGHT_TO) {
                $woken[$person] = ($woken[$person] ?? 0) + 1;
            }
        }
        $shares = array_map(
            static fn(int $person): FairShare => new FairShare(
                $person,
                $hours[$person] ?? 0.0,
                $nights[$person] ?? 0,
                $weekends[$person] ?? 0,
                $off[$person] ?? 0,
                $woken[$person] ?? 0,
            ),
            array_keys($hours + $nights + $woken),
        );
        usort($shares, static fn(FairShare $a, FairShare $b): int => [$b->hours, $a->person] <=> [$a->hours, $b->person]);

        return new self($shares);
    }

    /**
     * How many times an even share the most loaded person carries, of what is shared out least evenly: 1 is even.
     *
     * @return array{Burden, FairShare, float}|null of what, whose, how many times; null where there is nothing to share out
     */
    public function unevenness(): ?array
    {
        $worst = null;
        foreach (Burden::cases() as $what) {
            // Whoever has none of it takes no part in it: nights are shared out between those who take nights.
            $each = array_filter(array_map(static fn(FairShare $one): float => $one->of($what), $this->shares), static fn(float $much): bool => $much > 0);
            $sum = array_sum($each);
            if (count($each) < 2 || $sum < self::LEAST_COUNTED) {
                continue;
            }
            $most = max($each);
            $times = $most / ($sum / count($each));
            if ($worst === null || $times > $worst[2]) {
                $worst = [$what, $this->shares[(int) array_search($most, $each, true)], $times];
            }
        }

        return $worst;
    }

    /**
     * @param list<Shift> $shifts
     *
     * @return list<int> who had half of it or more: two, where they shared it evenly
     */
    private static function bearers(array $shifts, int $place, int $fromMs, int $toMs): array
    {
        $had = [];
        for ($i = $place, $n = count($shifts); $i < $n && $shifts[$i]->from->ms < $toMs; ++$i) {
            $ms = min($toMs, $shifts[$i]->to->ms) - max($fromMs, $shifts[$i]->from->ms);
            if ($ms > 0 && $shifts[$i]->person !== null) {
                $had[$shifts[$i]->person] = ($had[$shifts[$i]->person] ?? 0) + $ms;
            }
        }

        return array_keys(array_filter($had, static fn(int $ms): bool => 2 * $ms >= $toMs - $fromMs));
    }

    /**
     * @param array<int, int> $counts
     * @param list<int>       $bearers
     *
     * @return array<int, int>
     */
    private static function counted(array $counts, array $bearers): array
    {
        foreach ($bearers as $person) {
            $counts[$person] = ($counts[$person] ?? 0) + 1;
        }

        return $counts;
    }
}
