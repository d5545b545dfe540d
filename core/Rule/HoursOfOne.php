<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Series\Buckets;
use Olivine\Core\Series\Window;

/** Between which values the hours of one series lay, for whoever asks for its windows or for its newest reading. */
final readonly class HoursOfOne
{
    private const HOUR_MS = 3_600_000;

    /** @param int $windowMs 0: its newest reading */
    public function __construct(public Buckets $hours, private int $windowMs)
    {
    }

    /**
     * Between which values it lies at all instants of a span, and so long before.
     *
     * @return array{float, float}|null null where that cannot be told: not all of it was seen
     */
    public function range(int $firstMs, int $lastMs, int $marginMs, float $mustSee): ?array
    {
        $fromMs = $firstMs - ($this->windowMs === 0 ? $this->hours->staleMs : $this->windowMs) - $marginMs;
        $firstEnd = self::floor($fromMs) + self::HOUR_MS;
        $lastEnd = -self::floor(-$lastMs);
        $count = intdiv($lastEnd - $firstEnd, self::HOUR_MS) + 1;
        $at = self::placeOf($this->hours->ends, $firstEnd);
        $isWhole = $at !== null && ($this->hours->ends[$at + $count - 1] ?? null) === $lastEnd && $fromMs >= $this->hours->bornMs;
        if (!$isWhole || !$this->isSeen($at, $count, $mustSee)) {
            return null;
        }

        return [min(INF, ...array_slice($this->hours->lows, $at, $count)), max(-INF, ...array_slice($this->hours->highs, $at, $count))];
    }

    /** However what is missing lies, each window has enough; where the newest counts, a single one that is missing may be an end. */
    private function isSeen(int $at, int $count, float $mustSee): bool
    {
        $intervalMs = $this->hours->staleMs / Window::STALE_INTERVALS;
        $missing = (int) ceil(($count * self::HOUR_MS) / $intervalMs) - array_sum(array_slice($this->hours->counts, $at, $count));
        if ($this->windowMs === 0) {
            return $missing <= 0;
        }
        $ofWindow = (int) ($this->windowMs / $intervalMs);

        return $ofWindow - $missing - 1 >= max(1, (int) ($mustSee * $ofWindow));
    }

    /**
     * @param list<int> $ends rising
     *
     * @return int|null where just this one stands
     */
    private static function placeOf(array $ends, int $end): ?int
    {
        $place = Window::firstAfter($ends, $end) - 1;

        return ($ends[$place] ?? null) === $end ? $place : null;
    }

    /** The last whole hour at or before an instant. */
    public static function floor(int $ms): int
    {
        return $ms - ((($ms % self::HOUR_MS) + self::HOUR_MS) % self::HOUR_MS);
    }
}
