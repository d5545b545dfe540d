<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;

/**
 * Rotations one above another: where several have somebody, the later one goes before the earlier.
 *
 * A cover holds where a rotation names the person it is for; of covers that overlap the later made one wins. One by somebody who is
 * absent does not take place, and then the earlier one holds. Covers do not chain. Whoever is absent without a cover leaves their
 * rotation empty, so that the next lower one's person is on call; where there is none it is a gap.
 */
final readonly class Roster
{
    private WallTimes $wall;

    /**
     * @param list<Rotation> $rotations from the lowest on
     * @param list<Cover>    $covers    in the order in which they were made
     * @param list<Absence>  $absences
     */
    public function __construct(public \DateTimeZone $zone, public array $rotations, public array $covers = [], public array $absences = [])
    {
        $this->wall = new WallTimes($zone);
    }

    /**
     * The same rotations with these.
     *
     * @param list<Cover>   $covers   in the order in which they were made
     * @param list<Absence> $absences
     */
    public function with(array $covers, array $absences): self
    {
        return new self($this->zone, $this->rotations, $covers, $absences);
    }

    /** @return list<Shift> maximal stretches that make up `[from, to)` */
    public function shifts(Instant $from, Instant $to): array
    {
        if (!$from->isBefore($to)) {
            return [];
        }
        $turns = array_map(
            fn(Rotation $one): array => $one->turns($this->wall, $from->ms, $to->ms),
            $this->rotations,
        );
        $covers = array_values(array_filter($this->covers, static fn(Cover $one): bool => $one->from->isBefore($to) && $one->to->isAfter($from)));
        $absences = array_values(array_filter($this->absences, static fn(Absence $one): bool => $one->from->isBefore($to) && $one->to->isAfter($from)));
        $borders = self::borders($from->ms, $to->ms, $turns, [...$covers, ...$absences]);
        $places = array_fill(0, count($turns), 0);
        $shifts = [];
        $last = null;
        for ($i = 0, $n = count($borders) - 1; $i < $n; ++$i) {
            $at = $borders[$i];
            $named = [];
            foreach ($turns as $r => $ofRotation) {
                while (isset($ofRotation[$places[$r]]) && $ofRotation[$places[$r]][1] <= $at) {
                    ++$places[$r];
                }
                $turn = $ofRotation[$places[$r]] ?? null;
                if ($turn !== null && $turn[0] <= $at) {
                    $named[$r] = $turn[2];
                }
            }
            $shift = $this->onCall($named, self::at($covers, $at), self::at($absences, $at), $at, $borders[$i + 1]);
            if ($last !== null && $last->isAs($shift)) {
                $shift = $last->through($shift->to);
                array_pop($shifts);
            }
            $shifts[] = $last = $shift;
        }

        return $shifts;
    }

    /**
     * @param array<int, int> $named    rotation → whom it names
     * @param list<Cover>     $covers   that hold then
     * @param list<Absence>   $absences that hold then
     */
    private function onCall(array $named, array $covers, array $absences, int $fromMs, int $toMs): Shift
    {
        $isAway = [];
        foreach ($absences as $absence) {
            $isAway[$absence->person] = true;
        }
        $away = [];
        foreach (array_reverse($named, true) as $r => $person) {
            $cover = array_find(
                array_reverse($covers),
                static fn(Cover $one): bool => $one->for === $person && !isset($isAway[$one->person]),
            );
            $by = $cover->person ?? (isset($isAway[$person]) ? null : $person);
            if ($by !== null) {
                return new Shift(
                    Instant::ofMs($fromMs),
                    Instant::ofMs($toMs),
                    $by,
                    $this->rotations[$r]->name,
                    $cover === null ? null : $person,
                );
            }
            $away[] = $person;
        }

        return new Shift(Instant::ofMs($fromMs), Instant::ofMs($toMs), null, null, null, $away);
    }

    /**
     * @template T of Cover|Absence
     *
     * @param list<T> $spans
     *
     * @return list<T>
     */
    private static function at(array $spans, int $at): array
    {
        return $spans === [] ? [] : array_values(array_filter($spans, static fn(Cover|Absence $one): bool => $one->from->ms <= $at && $one->to->ms > $at));
    }

    /**
     * @param list<list<array{int, int, int}>> $turns
     * @param list<Cover|Absence>              $spans
     *
     * @return list<int> every instant at which it may become otherwise, with both ends
     */
    private static function borders(int $fromMs, int $toMs, array $turns, array $spans): array
    {
        $borders = [$fromMs => true, $toMs => true];
        foreach ($turns as $ofRotation) {
            foreach ($ofRotation as [$from, $to]) {
                $borders[$from] = $borders[$to] = true;
            }
        }
        foreach ($spans as $span) {
            $borders[max($fromMs, $span->from->ms)] = $borders[min($toMs, $span->to->ms)] = true;
        }
        $borders = array_keys($borders);
        sort($borders);

        return $borders;
    }
}
