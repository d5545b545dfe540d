<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Series\Window;

/**
 * Where a series is going, from its own past: by a robust line, or by a line and the shape of its day, whichever has been
 * right about this series before.
 *
 * The line is Theil's, by his incomplete method: its slope is the median of the slopes between values that lie half of the past
 * apart, in whole days where there are some, so that the shape of the day is the same at both; its level is the median of what
 * is left (Theil 1950, Proc. KNAW 53). So a restart or a peak does not turn it. The shape of the day is, for each half hour on
 * the clocks of a zone, the median of how far the values there were from the line. Which of the two is used is tried on the
 * newest third of the past, foreseen from the two thirds before it: the one whose errors were smaller, and the median of
 * those errors, scaled like a MAD, is how far off the forecast is expected to be.
 *
 * By example, a disk at 70 % that gained a point an hour for two days is foreseen at 94 % a day ahead, and as the newest
 * sixteen hours went just as the thirty-two before them said, with an error near nothing.
 */
final readonly class Foresight
{
    /** So many values are enough to tell a line and the shape of a day. */
    private const MOST_VALUES = 120;
    private const LEAST_VALUES = 12;
    private const STEPS_AHEAD = 48;
    /** The shape of a day is known where two days were seen, but for one value at each end. */
    private const LEAST_DAYS_MS = 2 * self::DAY_MS - 7_200_000;
    private const DAY_MS = 86_400_000;
    private const HALF_HOURS = 48;
    private const LINE = 'line';

    private WallClock $clock;

    public function __construct(\DateTimeZone $zone)
    {
        $this->clock = new WallClock($zone);
    }

    /** @return int how far apart the instants lie at which the past is looked at, and at which a forecast changes */
    public static function stepMs(int $spanMs): int
    {
        return max(1, (int) ceil($spanMs / self::MOST_VALUES / Evaluator::INNER_STEP_MS)) * Evaluator::INNER_STEP_MS;
    }

    /**
     * At each instant as it was foreseen at the last instant of the grid before it.
     *
     * @param Window              $past     values on the grid of stepMs()
     * @param non-empty-list<int> $instants rising
     * @param Nearness|null       $nearness what cannot come near it is not told
     *
     * @return list<array{float, float, float}|null> highest, lowest, and how far off they may be
     */
    public function alongside(Window $past, array $instants, int $withinMs, int $spanMs, ?Nearness $nearness = null): array
    {
        $step = self::stepMs($spanMs);
        [$times, $values] = self::finite($past);
        $count = count($times);
        $low = $high = 0;
        $told = [];
        $last = null;
        $lastAt = null;
        foreach ($instants as $instant) {
            $at = $instant - ((($instant % $step) + $step) % $step);
            if ($at !== $lastAt) {
                while ($high < $count && $times[$high] <= $at) {
                    ++$high;
                }
                while ($low < $high && $times[$low] <= $at - $spanMs) {
                    ++$low;
                }
                $last = $this->unlessFar(array_slice($times, $low, $high - $low), array_slice($values, $low, $high - $low), $at, $withinMs, $nearness);
                $lastAt = $at;
            }
            $told[] = $last;
        }

        return $told;
    }

    /**
     * @param list<int>   $times
     * @param list<float> $values
     *
     * @return array{float, float, float}|null
     */
    private function unlessFar(array $times, array $values, int $at, int $withinMs, ?Nearness $nearness): ?array
    {
        $isFar = $nearness !== null && $values !== [] && $times !== []
            && $nearness->isOutOfReach($values[count($values) - 1], self::most($times, $values, $withinMs));

        return $isFar ? null : $this->ahead($times, $values, $at, $withinMs);
    }

    /**
     * By how much what is foreseen can differ from now, whichever way it is foreseen. No slope between two values is steeper than all of
     * their range within the shortest gap that is looked over, and the shape of a day is no higher than what is left of the values
     * beside such a line.
     *
     * @param non-empty-list<int>   $times
     * @param non-empty-list<float> $values
     */
    private static function most(array $times, array $values, int $withinMs): float
    {
        $range = max($values) - min($values);
        $spanMs = $times[count($times) - 1] - $times[0];
        $gapMs = self::gapMs($spanMs);

        return $gapMs === 0 ? INF : $range * (1 + ($withinMs + $spanMs) / $gapMs);
    }

    /** @return int how far apart the values lie whose slopes make the line: half of the past, in whole days where there are some */
    private static function gapMs(int $spanMs): int
    {
        $days = intdiv($spanMs, 2 * self::DAY_MS);

        return $days > 0 ? $days * self::DAY_MS : intdiv($spanMs, 2);
    }

    /** @return array{list<int>, list<float>} times and values of what is there and finite */
    private static function finite(Window $past): array
    {
        $times = [];
        $values = [];
        foreach ($past->values as $i => $value) {
            if ($value !== null && is_finite($value)) {
                $times[] = $past->times[$i];
                $values[] = $value;
            }
        }

        return [$times, $values];
    }

    /**
     * @param list<int>   $times  rising
     * @param list<float> $values finite, one a time
     * @param int         $at     the present
     *
     * @return array{float, float, float}|null highest and lowest value until then, and how far off they may be; null where too little is known
     */
    public function ahead(array $times, array $values, int $at, int $withinMs): ?array
    {
        $known = $this->best($times, $values, $withinMs);
        if ($known === null) {
            return null;
        }
        [$trajectory, $error] = $known;
        // What it is now is known; foreseen is how it goes on from here.
        $foreseen = $trajectory->at(self::instantsAhead($at, $withinMs));
        $up = $down = 0.0;
        foreach ($foreseen as $value) {
            $up = max($up, $value - $foreseen[0]);
            $down = min($down, $value - $foreseen[0]);
        }
        $now = $values[count($values) - 1];

        return [$now + $up, $now + $down, $error];
    }

    /**
     * When a limit is reached if all goes on as it did. By example, a disk at 70 % that gained a point an hour reaches its limit of
     * 90 % in twenty hours.
     *
     * @param list<int>   $times   rising
     * @param list<float> $values  finite, one a time
     * @param int         $at      the present
     * @param bool        $isAbove whether it is past the limit where it is above
     *
     * @return int|null null where it is past it already, or does not come to it, or where it was usually off by more than the limit is away
     */
    public function reaches(array $times, array $values, int $at, int $withinMs, float $limit, bool $isAbove): ?int
    {
        $known = $this->best($times, $values, $withinMs);
        if ($known === null) {
            return null;
        }
        [$trajectory, $error] = $known;
        $now = $values[count($values) - 1];
        $toGo = $isAbove ? $limit - $now : $now - $limit;
        if ($toGo < 0 || !is_finite($toGo) || $error >= $toGo) {
            return null;
        }
        $instants = self::instantsAhead($at, $withinMs);
        $foreseen = $trajectory->at($instants);
        $before = 0.0;
        foreach ($foreseen as $i => $value) {
            $gone = $isAbove ? $value - $foreseen[0] : $foreseen[0] - $value;
            if ($i > 0 && $gone > $toGo) {
                return $instants[$i - 1] + (int) round((($toGo - $before) / ($gone - $before)) * ($instants[$i] - $instants[$i - 1]));
            }
            $before = $gone;
        }

        return null;
    }

    /** @return non-empty-list<int> the present first */
    private static function instantsAhead(int $at, int $withinMs): array
    {
        $instants = [$at];
        for ($i = 1; $i <= self::STEPS_AHEAD; ++$i) {
            $instants[] = $at + intdiv($withinMs * $i, self::STEPS_AHEAD);
        }

        return $instants;
    }

    /**
     * @param list<int>   $times
     * @param list<float> $values
     *
     * @return array{Trajectory, float}|null the way that was right before, and how far off it is expected to be; null where too little is known
     */
    private function best(array $times, array $values, int $withinMs): ?array
    {
        $count = count($values);
        if ($count < self::LEAST_VALUES || $times[$count - 1] - $times[0] < $withinMs / 4) {
            return null;
        }
        $tried = intdiv(2 * $count, 3);
        $best = null;
        $error = INF;
        foreach ($this->ways(array_slice($times, 0, $tried), array_slice($values, 0, $tried)) as $way => $trajectory) {
            $off = self::error(array_slice($values, $tried), $trajectory->at(array_slice($times, $tried)));
            if ($best === null || $off < $error) {
                $best = $way;
                $error = $off;
            }
        }
        $trajectory = $best === null ? null : $this->way($best, $times, $values);

        return $trajectory === null ? null : [$trajectory, $error];
    }

    /**
     * @param list<int>   $times
     * @param list<float> $values
     */
    private function way(string $way, array $times, array $values): ?Trajectory
    {
        return $way === self::LINE ? $this->line($times, $values) : $this->ways($times, $values)[$way] ?? null;
    }

    /**
     * @param list<int>   $times
     * @param list<float> $values
     *
     * @return array<string, Trajectory>
     */
    private function ways(array $times, array $values): array
    {
        $line = $this->line($times, $values);
        if ($line === null) {
            return [];
        }
        $shape = $this->shapeOfDay($times, $values, $line);

        return $shape === null ? [self::LINE => $line] : [self::LINE => $line, 'day' => $line->withShape($shape)];
    }

    /**
     * @param list<int>   $times
     * @param list<float> $values
     */
    private function line(array $times, array $values): ?Trajectory
    {
        $count = count($values);
        if ($count === 0) {
            return null;
        }
        $gapMs = self::gapMs($times[$count - 1] - $times[0]);
        $slopes = [];
        for ($i = 0, $j = 0; $i < $count; ++$i) {
            while ($j < $count && $times[$j] < $times[$i] + $gapMs) {
                ++$j;
            }
            if ($j < $count && $j > $i) {
                $slopes[] = (($values[$j] - $values[$i]) * 1000) / ($times[$j] - $times[$i]);
            }
        }
        if ($slopes === []) {
            return null;
        }
        $slope = Spread::median($slopes);
        $left = [];
        foreach ($values as $i => $value) {
            $left[] = $value - ($slope * ($times[$i] - $times[0])) / 1000;
        }

        return new Trajectory($times[0], Spread::median($left), $slope, $this->clock);
    }

    /**
     * @param list<int>   $times
     * @param list<float> $values
     *
     * @return array<int, float>|null half hour of the day → how far above the line it is; null where a day was not seen twice
     */
    private function shapeOfDay(array $times, array $values, Trajectory $line): ?array
    {
        if ($times === [] || end($times) - $times[0] < self::LEAST_DAYS_MS) {
            return null;
        }
        $away = [];
        foreach ($this->clock->shown($times) as $i => $shown) {
            $away[Trajectory::halfHour($shown)][] = $values[$i] - $line->onLine($times[$i]);
        }
        $shape = array_map(Spread::median(...), $away);
        // Where values are further apart than half an hour, what lies between is as what was before it.
        $known = null;
        for ($i = 0; $i < 2 * self::HALF_HOURS; ++$i) {
            $half = $i % self::HALF_HOURS;
            $known = $shape[$half] ?? $known;
            if ($known !== null) {
                $shape[$half] ??= $known;
            }
        }

        return $shape;
    }

    /**
     * @param list<float> $values
     * @param list<float> $foreseen
     */
    private static function error(array $values, array $foreseen): float
    {
        $errors = array_map(static fn(float $value, float $said): float => abs($value - $said), $values, $foreseen);

        return $errors === [] ? INF : Spread::MAD_SCALE * Spread::median($errors);
    }
}
