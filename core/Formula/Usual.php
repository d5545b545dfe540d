<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Series\Window;

/**
 * What is usual for one series, found from its own past.
 *
 * The past is looked at on a grid of at most 2,016 instants, and what is usual changes only at these: over 14 days
 * that is every ten minutes. By example, `baseline(x, median, 14d)` at 09:07 is the median of the values x had at
 * each of the 2,016 instants that end with 09:00.
 */
final readonly class Usual
{
    /** Times the spread: far from what is usual. */
    private const FAR = 6.0;
    /** Trouble that began longer ago than so many spans is not looked up any more. */
    public const SPANS_REMEMBERED = 2;
    private const MOST_INSTANTS = 2_016;
    private const DAY_MS = 86_400_000;
    private const WEEK_MS = 7 * self::DAY_MS;
    private const HALF_HOUR_MS = 1_800_000;
    private const HALVINGS_A_SPAN = 8;

    private WallClock $clock;

    /** @param \DateTimeZone $zone whose hours are meant by the same hour of other days */
    public function __construct(private int $spanMs, \DateTimeZone $zone)
    {
        $this->clock = new WallClock($zone);
    }

    /** @return int how far apart the instants lie at which the past is looked at */
    public function stepMs(): int
    {
        return max(1, (int) ceil($this->spanMs / self::MOST_INSTANTS / Evaluator::INNER_STEP_MS)) * Evaluator::INNER_STEP_MS;
    }

    /**
     * @param Window              $past     values on the grid of stepMs()
     * @param non-empty-list<int> $instants
     *
     * @return list<float|null>
     */
    public function baseline(Window $past, BaselineMethod $method, array $instants): array
    {
        return $this->atEachStep(
            $past,
            $instants,
            fn(array $times, array $values, int $at): ?float => match ($method) {
                BaselineMethod::Median => Spread::median($values),
                BaselineMethod::Mean => Spread::mean($values),
                BaselineMethod::Ewma => $this->weighted($times, $values, $at),
                BaselineMethod::SameHour => self::robust($this->sameHour($times, $values, $at, self::DAY_MS))[0] ?? null,
                BaselineMethod::SameWeekday => self::robust($this->sameHour($times, $values, $at, self::WEEK_MS))[0] ?? null,
            },
        );
    }

    /**
     * The middle and the yardstick of the past, for each instant.
     *
     * @param non-empty-list<int> $instants
     *
     * @return list<array{float, float}|null>
     */
    public function spread(Window $past, Yardstick $yardstick, array $instants): array
    {
        return $this->atEachStep(
            $past,
            $instants,
            static fn(array $times, array $values): array => $yardstick === Yardstick::Mad
                ? [Spread::median($values), Spread::MAD_SCALE * Spread::mad($values)]
                : [Spread::mean($values), Spread::stddev($values)],
        );
    }

    /**
     * What is usual by a method, and the yardstick that fits it: scaled MAD beside a median, standard deviation beside an average.
     *
     * @param Window              $past     values on the grid of stepMs()
     * @param non-empty-list<int> $instants
     * @param int                 $warmUpMs so long there must have been values; null before that
     * @param list<UnusualSpan>   $trouble  of the series
     *
     * @return list<array{float, float}|null>
     */
    public function centreAndSpread(Window $past, BaselineMethod $method, array $instants, int $warmUpMs, array $trouble = []): array
    {
        return $this->atEachStep(
            $past,
            $instants,
            function (array $times, array $values, int $at) use ($method, $warmUpMs, $trouble): ?array {
                if ($times[0] > $at - $warmUpMs) {
                    return null;
                }
                $looked = match ($method) {
                    BaselineMethod::SameHour => $this->sameHour($times, $values, $at, self::DAY_MS),
                    BaselineMethod::SameWeekday => $this->sameHour($times, $values, $at, self::WEEK_MS),
                    default => $values,
                };
                $calm = $this->withoutTrouble($times, $looked, $at, $trouble);

                return match ($method) {
                    BaselineMethod::Mean => self::average(self::withoutFar($calm)),
                    BaselineMethod::Ewma => $this->weightedAverage($times, self::withoutFar($calm), $at),
                    default => self::robust($calm),
                };
            },
        );
    }

    /**
     * What was read while the rule was raised is left out, by what was known of it at the last midnight (UTC), however far a look
     * came by then. Where that would be more than half, nothing is: what lasts so long is what is usual by now.
     *
     * @param non-empty-list<int> $times
     * @param array<int, float>   $values  place among the times → value
     * @param list<UnusualSpan>   $trouble
     *
     * @return array<int, float>
     */
    private function withoutTrouble(array $times, array $values, int $at, array $trouble): array
    {
        $midnight = $at - ((($at % self::DAY_MS) + self::DAY_MS) % self::DAY_MS);
        $remembered = $at - self::SPANS_REMEMBERED * $this->spanMs;
        $spans = [];
        foreach ($trouble as $span) {
            if ($span->knownMs < $midnight && $span->knownMs >= $remembered) {
                $spans[] = [$span->fromMs, min($span->throughMs, $midnight)];
            }
        }
        if ($spans === []) {
            return $values;
        }
        sort($spans);
        $calm = [];
        $begun = 0;
        $until = PHP_INT_MIN;
        foreach ($values as $i => $value) {
            while ($begun < count($spans) && $spans[$begun][0] <= $times[$i]) {
                $until = max($until, $spans[$begun][1]);
                ++$begun;
            }
            if ($times[$i] > $until) {
                $calm[$i] = $value;
            }
        }

        return 2 * count($calm) < count($values) ? $values : $calm;
    }

    /**
     * An average counts an hour of trouble for as long as it is looked back on, also of trouble that no rule was there to see: what
     * lies far from the middle of all is left out of it. A median and the same hours of other days are not moved by it.
     *
     * @param array<int, float> $values
     *
     * @return array<int, float>
     */
    private static function withoutFar(array $values): array
    {
        [$middle, $spread] = self::robust($values) ?? [0.0, 0.0];
        $near = $spread > 0.0 ? array_filter($values, static fn(float $value): bool => abs($value - $middle) <= self::FAR * $spread) : [];

        return $near === [] ? $values : $near;
    }

    /**
     * @param array<int, float> $values
     *
     * @return array{float, float}|null
     */
    private static function robust(array $values): ?array
    {
        return $values === [] ? null : [Spread::median(array_values($values)), Spread::MAD_SCALE * Spread::mad(array_values($values))];
    }

    /**
     * @param array<int, float> $values
     *
     * @return array{float, float}|null
     */
    private static function average(array $values): ?array
    {
        return $values === [] ? null : [Spread::mean(array_values($values)), Spread::stddev(array_values($values))];
    }

    /**
     * @param non-empty-list<int> $times
     * @param array<int, float>   $values place among the times → value
     *
     * @return array{float, float}|null
     */
    private function weightedAverage(array $times, array $values, int $at): ?array
    {
        if ($values === []) {
            return null;
        }
        $mean = $this->weighted($times, $values, $at);
        $squares = array_map(static fn(float $value): float => ($value - $mean) ** 2, $values);

        return [$mean, sqrt($this->weighted($times, $squares, $at))];
    }

    /**
     * @template T
     *
     * @param non-empty-list<int>                                                 $instants
     * @param callable(non-empty-list<int>, non-empty-list<float>, int): (T|null) $of
     *
     * @return list<T|null>
     */
    private function atEachStep(Window $past, array $instants, callable $of): array
    {
        $step = $this->stepMs();
        $times = [];
        $values = [];
        foreach ($past->values as $i => $value) {
            if ($value !== null && !is_nan($value)) {
                $times[] = $past->times[$i];
                $values[] = $value;
            }
        }
        $found = [];
        $low = 0;
        $high = 0;
        $count = count($times);
        $last = null;
        $lastAt = null;
        foreach ($instants as $instant) {
            $at = $instant - ((($instant % $step) + $step) % $step);
            if ($at !== $lastAt) {
                while ($high < $count && $times[$high] <= $at) {
                    ++$high;
                }
                while ($low < $high && $times[$low] <= $at - $this->spanMs) {
                    ++$low;
                }
                $lastAt = $at;
                $inside = array_slice($values, $low, $high - $low);
                $insideTimes = array_slice($times, $low, $high - $low);
                $last = $inside === [] || $insideTimes === [] ? null : $of($insideTimes, $inside, $at);
            }
            $found[] = $last;
        }

        return $found;
    }

    /**
     * @param non-empty-list<int>         $times
     * @param non-empty-array<int, float> $values place among the times → value
     */
    private function weighted(array $times, array $values, int $at): float
    {
        $sum = 0.0;
        $weights = 0.0;
        foreach ($values as $i => $value) {
            $weight = 2.0 ** ((($times[$i] - $at) * self::HALVINGS_A_SPAN) / $this->spanMs);
            $sum += $weight * $value;
            $weights += $weight;
        }

        return $sum / $weights;
    }

    /**
     * @param non-empty-list<int>   $times
     * @param non-empty-list<float> $values
     * @param int                   $everyMs a day or a week
     *
     * @return array<int, float> those of the same hour of earlier days, or of the same day of earlier weeks, at their places
     */
    private function sameHour(array $times, array $values, int $at, int $everyMs): array
    {
        if ($this->clock->goesEvenly($times[0], $at)) {
            return self::sameHourByTheClock($times, $values, $at, $everyMs);
        }
        // What the clock on the wall shows, so that nine in the morning stays nine in the morning when clocks change.
        $shown = $this->clock->shown([...$times, $at]);
        $now = $shown[count($times)];
        $same = [];
        foreach ($values as $i => $value) {
            $away = ($now - $shown[$i]) % $everyMs;
            $isBefore = $now - $shown[$i] >= $everyMs - self::HALF_HOUR_MS;
            if ($isBefore && ($away <= self::HALF_HOUR_MS || $away >= $everyMs - self::HALF_HOUR_MS)) {
                $same[$i] = $value;
            }
        }

        return $same;
    }

    /**
     * Where clocks go evenly only what lies half an hour around each earlier day is looked at, the earliest first.
     *
     * @param non-empty-list<int>   $times
     * @param non-empty-list<float> $values
     *
     * @return array<int, float>
     */
    private static function sameHourByTheClock(array $times, array $values, int $at, int $everyMs): array
    {
        $same = [];
        $count = count($times);
        for ($i = 0, $ago = intdiv($at - $times[0] + self::HALF_HOUR_MS, $everyMs); $ago >= 1; --$ago) {
            $middle = $at - $ago * $everyMs;
            $i = self::firstFrom($times, $middle - self::HALF_HOUR_MS, $i);
            for (; $i < $count && $times[$i] <= $middle + self::HALF_HOUR_MS; ++$i) {
                $same[$i] = $values[$i];
            }
        }

        return $same;
    }

    /**
     * @param list<int> $times rising
     *
     * @return int the first place from there on at or after an instant
     */
    private static function firstFrom(array $times, int $atMs, int $low): int
    {
        $high = count($times);
        while ($low < $high) {
            $middle = ($low + $high) >> 1;
            if ($times[$middle] < $atMs) {
                $low = $middle + 1;
            } else {
                $high = $middle;
            }
        }

        return $low;
    }
}
