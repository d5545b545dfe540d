<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Series\Window;

/**
 * Reduces the readings of one series over a window that slides from instant to instant.
 */
final readonly class SlidingWindow
{
    /** So many instants are told at once where they are alike. */
    private const FAR = 240;
    private const NEAR = 20;

    /** @var list<int> */
    private array $times;
    /** @var list<float> */
    private array $values;

    public function __construct(private Window $window)
    {
        if (!$window->isWhole && (in_array(null, $window->values, true) || self::hasNan($window->values))) {
            $times = [];
            $values = [];
            foreach ($window->values as $i => $value) {
                if ($value !== null && !is_nan($value)) {
                    $times[] = $window->times[$i];
                    $values[] = $value;
                }
            }
            $this->times = $times;
            $this->values = $values;
        } else {
            /** @var list<float> $values */
            $values = $window->values;
            $this->times = $window->times;
            $this->values = $values;
        }
    }

    /**
     * @param non-empty-list<int> $instants rising
     * @param float               $mustSee  the share of the window that must have been seen, 0 to 1
     *
     * @return list<float|null>
     */
    public function reduce(TimeReducer $reducer, int $windowMs, array $instants, ?float $parameter = null, float $mustSee = 0.0): array
    {
        if ($reducer->countsGrowth()) {
            return $this->grown($reducer, $this->places($windowMs, $instants, $mustSee));
        }
        $mayBeTooLittle = $mustSee > 0.0 && $reducer->needsTheWhole();
        $seen = Seen::of($this->window->staleMs, $this->window->bornMs);
        $whole = $seen->neededOf($windowMs, $mustSee);
        // Local names: this loop passes over every reading of a chart.
        $times = $this->times;
        $count = count($times);
        // Mostly as many readings come in and go out with each instant, so they are leapt over.
        $leap = max(1, intdiv($count, count($instants)));
        $reduced = [];
        $low = 0;
        $high = 0;
        foreach ($instants as $at) {
            while ($high + $leap <= $count && $times[$high + $leap - 1] <= $at) {
                $high += $leap;
            }
            while ($high < $count && $times[$high] <= $at) {
                ++$high;
            }
            $start = $at - $windowMs;
            while ($low + $leap <= $high && $times[$low + $leap - 1] <= $start) {
                $low += $leap;
            }
            while ($low < $high && $times[$low] <= $start) {
                ++$low;
            }
            $reduced[] = match (true) {
                $low === $high => null,
                // Each interval must have its reading.
                $mayBeTooLittle && $high - $low < ($seen->isBornBefore($start) ? $whole : $seen->needed($start, $at, $mustSee)) => null,
                default => $this->reduceSlice($reducer, $low, $high, $at, $parameter),
            };
        }

        return $reduced;
    }

    /**
     * Where each window of a counter begins and ends.
     *
     * @param non-empty-list<int> $instants rising
     * @param float               $mustSee  the share of the window that must have been seen, 0 to 1
     * @param CounterPlaces|null  $before   of another counter, which hold here too where both were read together
     */
    public function places(int $windowMs, array $instants, float $mustSee, ?CounterPlaces $before = null): CounterPlaces
    {
        return CounterPlaces::again($before, $this->times, $this->window, $windowMs, $instants, $mustSee);
    }

    /** @return list<float|null> what it grew by, or how fast, one an instant */
    public function grown(TimeReducer $reducer, CounterPlaces $places): array
    {
        return $places->growth($this->values, $reducer === TimeReducer::Rate);
    }

    /**
     * The same as far as somebody needs to know: where it lies steadily between two bounds, any value between these.
     *
     * @param non-empty-list<int> $instants rising, equally far apart
     *
     * @return list<float|null>
     */
    public function reduceSteady(
        TimeReducer $reducer,
        int $windowMs,
        array $instants,
        ?float $parameter,
        float $mustSee,
        Steady $steady,
    ): array {
        $reduced = [];
        $count = count($instants);
        $place = null;
        $since = 0;
        $low = 0;
        for ($i = 0; $i < $count; $i = $end) {
            $from = $instants[$i] - $windowMs;
            $low = $this->firstAfter($from, $low);
            $before = $place;
            // Of many instants at once first, and only where these are not alike of few.
            $end = min($count, $i + self::FAR);
            [$place, $stand] = $this->placeOf($steady, $low, $from, $instants[$end - 1], $windowMs, $mustSee);
            if ($place === null) {
                $end = min($count, $i + self::NEAR);
                [$place, $stand] = $this->placeOf($steady, $low, $from, $instants[$end - 1], $windowMs, $mustSee);
            }
            if ($place === null || $place !== $before) {
                $since = $instants[$i];
            }
            if ($place === null || $instants[$i] <= $since + $steady->marginMs) {
                $end = min($count, $i + self::NEAR);
                $near = array_slice($instants, $i, $end - $i);
                \assert($near !== []);
                array_push($reduced, ...$this->reduce($reducer, $windowMs, $near, $parameter, $mustSee));
            } else {
                array_push($reduced, ...array_fill(0, $end - $i, $stand));
            }
        }

        return $reduced;
    }

    /** @return array{int|null, float} between which bounds all readings of these windows lie, and one of them; null where that cannot be told */
    private function placeOf(Steady $steady, int $low, int $fromMs, int $throughMs, int $windowMs, float $mustSee): array
    {
        $high = $this->firstAfter($throughMs, $low);
        $intervalMs = $this->window->staleMs / Window::STALE_INTERVALS;
        $ofOne = (int) ($windowMs / $intervalMs);
        $missing = (int) ceil(($throughMs - $fromMs) / $intervalMs) - ($high - $low);
        $needed = max(1, (int) ($mustSee * $ofOne));
        // However what is missing lies, each window has enough.
        if ($ofOne - $missing - 1 < $needed || $fromMs < $this->window->bornMs) {
            return [null, 0.0];
        }
        $inside = array_slice($this->values, $low, $high - $low);
        \assert($inside !== []);
        $lowest = min($inside);

        return [$steady->placeOf($lowest, max($inside)), $lowest];
    }

    /** @return int the first reading after an instant, from a place on that lies before it */
    private function firstAfter(int $atMs, int $low): int
    {
        $high = count($this->times);
        while ($low < $high) {
            $middle = ($low + $high) >> 1;
            if ($this->times[$middle] <= $atMs) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }

        return $low;
    }

    private function reduceSlice(TimeReducer $reducer, int $low, int $high, int $at, ?float $parameter): ?float
    {
        if ($reducer === TimeReducer::Count) {
            return (float) ($high - $low);
        }
        if ($reducer === TimeReducer::Last) {
            return $this->values[$high - 1];
        }
        $inside = array_slice($this->values, $low, $high - $low);
        \assert($inside !== []);

        return match ($reducer) {
            TimeReducer::Mean => array_sum($inside) / ($high - $low),
            TimeReducer::Min => min($inside),
            TimeReducer::Max => max($inside),
            TimeReducer::Sum => (float) array_sum($inside),
            TimeReducer::First => $inside[0],
            TimeReducer::Range => max($inside) - min($inside),
            TimeReducer::Stddev => Spread::stddev($inside),
            TimeReducer::Median => Spread::median($inside),
            TimeReducer::Quantile => Spread::quantile($parameter ?? 0.5, $inside),
            TimeReducer::Mad => Spread::mad($inside),
            TimeReducer::Slope => $this->line($low, $inside, $at)[1] ?? null,
            TimeReducer::Forecast => $this->ahead($low, $inside, $at, $parameter ?? 0.0),
            default => $this->values[$high - 1] - $inside[0],
        };
    }

    /**
     * The least-squares line through the readings.
     *
     * @param non-empty-list<float> $inside
     *
     * @return array{float, float}|null its value at the instant and its slope a second; null for fewer than two readings
     */
    private function line(int $low, array $inside, int $at): ?array
    {
        $count = count($inside);
        if ($count < 2) {
            return null;
        }
        $meanValue = Spread::mean($inside);
        $seconds = [];
        foreach ($inside as $i => $_) {
            $seconds[] = ($this->times[$low + $i] - $at) / 1000;
        }
        $meanSecond = array_sum($seconds) / $count;
        $products = 0.0;
        $squares = 0.0;
        foreach ($inside as $i => $value) {
            $products += ($seconds[$i] - $meanSecond) * ($value - $meanValue);
            $squares += ($seconds[$i] - $meanSecond) ** 2;
        }
        $slope = $products / $squares;

        return [$meanValue - $slope * $meanSecond, $slope];
    }

    /** @param non-empty-list<float> $inside */
    private function ahead(int $low, array $inside, int $at, float $seconds): ?float
    {
        $line = $this->line($low, $inside, $at);

        return $line === null ? null : $line[0] + $line[1] * $seconds;
    }

    /** @param list<float|null> $values */
    private static function hasNan(array $values): bool
    {
        return is_nan((float) array_sum($values));
    }
}
