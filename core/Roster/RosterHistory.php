<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * A roster as it was, is and will be: each revision takes effect at an instant. Before it the former one holds, from it on the new one,
 * so neither the past nor who is on call now changes by an edit unless its instant says so.
 */
final readonly class RosterHistory
{
    private const NEXT_WITHIN_DAYS = 120;
    private const FIRST_LOOK_DAYS = 15;

    /**
     * @param non-empty-list<array{Instant, Roster}> $revisions from when on each holds, rising
     */
    private function __construct(private array $revisions)
    {
    }

    /**
     * What was made later holds from its instant on, also where something made before would have begun after that.
     *
     * @param non-empty-list<array{Instant, Roster}> $revisions in the order in which they were made
     */
    public static function of(array $revisions): self
    {
        $holding = [];
        foreach ($revisions as $revision) {
            $holding = array_filter($holding, static fn(array $former): bool => $former[0]->isBefore($revision[0]));
            $holding[] = $revision;
        }

        return new self(array_values($holding));
    }

    public static function always(Roster $roster): self
    {
        return new self([[Instant::ofMs(0), $roster]]);
    }

    /** @return list<Shift> maximal stretches that make up `[from, to)`; before the first revision there is nobody */
    public function shifts(Instant $from, Instant $to): array
    {
        $shifts = [];
        $first = $this->revisions[0][0]->earlier($to);
        if ($first->isAfter($from)) {
            $shifts[] = new Shift($from, $first, null, null);
        }
        foreach ($this->revisions as $i => [$begin, $roster]) {
            $end = ($this->revisions[$i + 1][0] ?? $to)->earlier($to);
            foreach ($roster->shifts($begin->later($from), $end) as $shift) {
                $last = $shifts[count($shifts) - 1] ?? null;
                if ($last !== null && $last->isAs($shift)) {
                    $shift = $last->through($shift->to);
                    array_pop($shifts);
                }
                $shifts[] = $shift;
            }
        }

        return $shifts;
    }

    /** @return list<Shift> those that touch `[from, to)`, from their own begin to their own end, as far as months before and after */
    public function touching(Instant $from, Instant $to): array
    {
        for ($days = self::FIRST_LOOK_DAYS; ; $days *= 2) {
            $around = Duration::ofDays($days);
            $all = $this->shifts($from->minus($around), $to->plus($around));
            $touching = array_values(array_filter($all, static fn(Shift $one): bool => $one->from->isBefore($to) && $one->to->isAfter($from)));
            $goesBeyond = $touching !== [] && ($touching[0] === $all[0] || $touching[count($touching) - 1] === $all[count($all) - 1]);
            if (!$goesBeyond || $days >= self::NEXT_WITHIN_DAYS) {
                return $touching;
            }
        }
    }

    public function at(Instant $at): Shift
    {
        return $this->shifts($at, $at->plus(Duration::ofMs(1)))[0] ?? throw new \LogicException('An instant has one shift');
    }

    /** Who is on call after whoever is now: the next one who is somebody else. */
    public function next(Instant $at): ?int
    {
        $now = $this->at($at)->person;
        for ($days = self::FIRST_LOOK_DAYS; $days <= self::NEXT_WITHIN_DAYS; $days *= 2) {
            foreach ($this->shifts($at, $at->plus(Duration::ofDays($days))) as $shift) {
                if ($shift->person !== null && $shift->person !== $now) {
                    return $shift->person;
                }
            }
        }

        return null;
    }
}
