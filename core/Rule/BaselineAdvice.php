<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\BaselineMethod;
use Olivine\Core\Formula\Spread;
use Olivine\Core\Formula\WallClock;
use Olivine\Core\Series\Window;
use Olivine\Core\Time\Duration;

/**
 * Which baseline suits some series, found from their own past: that around which the least of their ups and downs is left.
 *
 * What is left is measured by the MAD of the distances, against that around the series' own median. By example, of a queue
 * that is 500 by day and 100 by night, give or take 10, half of its values lie 200 away from its median of 300, and 10 away
 * from the median of the same hour of other days: 5 % is left. Of several series the middle one counts. A baseline that leaves
 * more than seven tenths is no better than the plain median, which is then advised.
 */
final readonly class BaselineAdvice
{
    public const STEP_MS = 1_800_000;
    private const LEAST_VALUES = 24;
    private const LEAST_DAYS = 3;
    private const LEAST_WEEKS = 3;
    private const DAYS_A_WEEK = 7;
    private const LEAST_TWINS = 3;
    private const GOOD_SHARE = 0.7;
    private const DAY_MS = 86_400_000;
    private const HALVINGS = 8;

    /**
     * @param BaselineMethod|null $method  null: its twins
     * @param bool                $isKnown whether there was enough of a past to tell
     * @param float               $left    of the ups and downs around the median, 0 to 1
     * @param Duration            $history of the series that has most
     */
    private function __construct(
        public ?BaselineMethod $method,
        public bool $isKnown,
        public float $left,
        public Duration $history,
        public int $series,
    ) {
    }

    /** @param list<Window> $past on a grid of half hours, the same for each */
    public static function of(array $past, \DateTimeZone $zone): self
    {
        $history = self::history($past);
        $left = [];
        foreach ($past as $i => $window) {
            $others = array_values(array_diff_key($past, [$i => 0]));
            foreach (self::leftBy($window, $others, $history, new WallClock($zone)) as $method => $share) {
                $left[$method][] = $share;
            }
        }
        if ($left === []) {
            return new self(BaselineMethod::Median, false, 1.0, $history, count($past));
        }
        $best = BaselineMethod::Median->value;
        $least = self::GOOD_SHARE;
        foreach ($left as $method => $shares) {
            $share = Spread::median($shares);
            if ($share < $least) {
                [$best, $least] = [$method, $share];
            }
        }
        $isBetter = $best !== BaselineMethod::Median->value;

        return new self(BaselineMethod::tryFrom($best), true, $isBetter ? $least : 1.0, $history, count($past));
    }

    /** In one sentence, why. */
    public function words(): string
    {
        $ofSeries = $this->series === 1 ? 'one series' : "{$this->series} series";
        $seen = "over {$this->history->words()} of {$ofSeries}";
        $left = sprintf('%d %%', round(100 * $this->left));

        return match (true) {
            !$this->isKnown => "Nobody can tell yet what is usual: there are {$this->history->words()} of history. Half a day is the least.",
            $this->method === null => "Its twins suit it best: {$left} of its ups and downs are its own, {$seen}.",
            $this->method === BaselineMethod::SameHour
                => "The same hours of other days suit it best: its day repeats, and {$left} of its ups and downs are left, {$seen}.",
            $this->method === BaselineMethod::SameWeekday
                => "The same hours of the same weekday suit it best: its week repeats, and {$left} of its ups and downs are left, {$seen}.",
            $this->method === BaselineMethod::Ewma
                => "A recent average suits it best: its level drifts, and {$left} of its ups and downs are left around it, {$seen}.",
            default => "The median of its past does as well as any: neither its hours, nor its twins, nor a recent average tell more, {$seen}.",
        };
    }

    /**
     * @param list<Window> $others
     *
     * @return array<string, float> method → the share of its ups and downs that is left
     */
    private static function leftBy(Window $window, array $others, Duration $history, WallClock $clock): array
    {
        $values = [];
        foreach ($window->values as $i => $value) {
            if ($value !== null && is_finite($value)) {
                $values[$i] = $value;
            }
        }
        if (count($values) < self::LEAST_VALUES) {
            return [];
        }
        $all = Spread::mad(array_values($values));
        if ($all <= 0.0) {
            return [BaselineMethod::Median->value => 1.0];
        }
        $away = ['twins' => self::fromTwins($values, $others), BaselineMethod::Ewma->value => self::fromRecent($values)];
        if ($history->isAtLeast(Duration::ofDays(self::LEAST_DAYS))) {
            $away[BaselineMethod::SameHour->value] = self::fromSameHour($values, $window->times, $clock, self::DAY_MS);
        }
        if ($history->isAtLeast(Duration::ofDays(self::LEAST_WEEKS * self::DAYS_A_WEEK - 1))) {
            $away[BaselineMethod::SameWeekday->value] = self::fromSameHour($values, $window->times, $clock, self::DAYS_A_WEEK * self::DAY_MS);
        }
        $left = [BaselineMethod::Median->value => 1.0];
        foreach ($away as $method => $distances) {
            if (count($distances) >= self::LEAST_VALUES) {
                $left[$method] = Spread::median(array_map(abs(...), $distances)) / $all;
            }
        }

        return $left;
    }

    /**
     * @param array<int, float> $values
     * @param list<Window>      $others
     *
     * @return list<float>
     */
    private static function fromTwins(array $values, array $others): array
    {
        if (count($others) + 1 < self::LEAST_TWINS) {
            return [];
        }
        $away = [];
        foreach ($values as $i => $value) {
            $there = [];
            foreach ($others as $other) {
                $one = $other->values[$i] ?? null;
                if ($one !== null && is_finite($one)) {
                    $there[] = $one;
                }
            }
            if (count($there) >= self::LEAST_TWINS - 1) {
                $away[] = $value - Spread::median($there);
            }
        }

        return $away;
    }

    /**
     * @param array<int, float> $values
     *
     * @return list<float> from the average of what was before, by weights that halve with every eighth of the past
     */
    private static function fromRecent(array $values): array
    {
        $kept = 2.0 ** (-self::HALVINGS / count($values));
        $average = null;
        $away = [];
        foreach ($values as $value) {
            if ($average !== null) {
                $away[] = $value - $average;
            }
            $average = $average === null ? $value : $kept * $average + (1 - $kept) * $value;
        }

        return $away;
    }

    /**
     * @param array<int, float> $values
     * @param list<int>         $times
     * @param int               $everyMs a day or a week
     *
     * @return list<float>
     */
    private static function fromSameHour(array $values, array $times, WallClock $clock, int $everyMs): array
    {
        $at = array_map(static fn(int $i): int => $times[$i], array_keys($values));
        if ($at === []) {
            return [];
        }
        $hours = [];
        $shown = $clock->shown($at);
        $places = array_keys($values);
        foreach ($shown as $n => $ms) {
            $hours[intdiv($ms % $everyMs, self::STEP_MS)][] = $values[$places[$n]];
        }
        $away = [];
        foreach ($hours as $same) {
            foreach ($same as $i => $value) {
                $others = array_values(array_diff_key($same, [$i => 0]));
                if (count($others) >= self::LEAST_DAYS - 1) {
                    $away[] = $value - Spread::median($others);
                }
            }
        }

        return $away;
    }

    /** @param list<Window> $past */
    private static function history(array $past): Duration
    {
        $most = Duration::none();
        foreach ($past as $window) {
            $there = array_keys(array_filter($window->values, static fn(?float $value): bool => $value !== null));
            if ($there !== []) {
                $span = Duration::ofMs($window->times[max($there)] - $window->times[min($there)]);
                $most = $span->isLongerThan($most) ? $span : $most;
            }
        }

        return $most;
    }
}
