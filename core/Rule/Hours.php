<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Evaluator;
use Olivine\Core\Formula\Node\AllOf;
use Olivine\Core\Formula\Node\NoneOf;
use Olivine\Core\Formula\Node\OneOf;
use Olivine\Core\Formula\Node\OverTime;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\Steady;
use Olivine\Core\Series\Buckets;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Series\Window;
use Olivine\Core\Time\Instant;

/**
 * Between which values each hour of each series lay. A month of a hundred series is 72,000 hours and 17 million readings: what lay
 * below 300 all the morning need not be read by whoever looks for what is above 400.
 */
final readonly class Hours
{
    private const HOUR_MS = 3_600_000;
    /** Ten figures each: a hundred series over a year are too many. */
    private const MOST = 400_000;

    /** @param list<Buckets> $series of each hour that holds a reading */
    private function __construct(private OverTime $of, private Select $select, private array $series)
    {
    }

    /** @return self|null null where it cannot be told from hours */
    public static function read(Rule $rule, Evaluator $evaluator, int $marginMs, Instant $first, Instant $through): ?self
    {
        $of = $rule->watched;
        if (!$of instanceof OverTime || !$of->of instanceof Select) {
            return null;
        }
        $from = self::floor($first->ms - $of->windowMs - $marginMs);
        $to = -self::floor(-$through->ms);
        $series = $evaluator->hours($of->of, $from, $to, self::MOST);

        return $series === null ? null : new self($of, $of->of, $series);
    }

    /**
     * What lies steadily between two bounds, from so long before the first instant that nothing follows any more from what was before.
     *
     * @return array<string, array{LabelSet, float}> labels, and a value that stands for all of its values, by the key of the labels
     */
    public function steady(Steady $steady, Instant $first, Instant $last, float $mustSee): array
    {
        $fromMs = $first->ms - $this->of->windowMs - $steady->marginMs;
        $firstEnd = self::floor($fromMs) + self::HOUR_MS;
        $lastEnd = -self::floor(-$last->ms);
        $hours = intdiv($lastEnd - $firstEnd, self::HOUR_MS) + 1;
        $found = [];
        foreach ($this->series as $one) {
            $at = self::placeOf($one->ends, $firstEnd);
            $isWhole = $at !== null && ($one->ends[$at + $hours - 1] ?? null) === $lastEnd && $fromMs >= $one->bornMs;
            if (!$isWhole || !$this->isSeen($one, $at, $hours, $mustSee)) {
                continue;
            }
            $lowest = min(INF, ...array_slice($one->lows, $at, $hours));
            $highest = max(-INF, ...array_slice($one->highs, $at, $hours));
            if ($steady->placeOf($lowest, $highest) !== null) {
                $found[$one->labels->key()] = [$one->labels, $lowest];
            }
        }

        return $found;
    }

    /**
     * The formula without these.
     *
     * @param array<string, mixed> $keys of label sets
     */
    public function others(array $keys): OverTime
    {
        $others = new NoneOf(new OneOf($keys));
        $where = $this->select->where === null ? $others : new AllOf($this->select->where, $others);

        return new OverTime(
            $this->of->place,
            $this->of->reducer,
            new Select($this->select->place, $this->select->metric, $where),
            $this->of->windowMs,
            $this->of->parameter,
        );
    }

    /** However what is missing lies, each window has enough. */
    private function isSeen(Buckets $one, int $at, int $hours, float $mustSee): bool
    {
        $intervalMs = $one->staleMs / Window::STALE_INTERVALS;
        $ofWindow = (int) ($this->of->windowMs / $intervalMs);
        $missing = (int) ceil(($hours * self::HOUR_MS) / $intervalMs) - array_sum(array_slice($one->counts, $at, $hours));

        return $ofWindow - $missing - 1 >= max(1, (int) ($mustSee * $ofWindow));
    }

    /**
     * @param list<int> $ends rising
     *
     * @return int|null where just this one stands
     */
    private static function placeOf(array $ends, int $end): ?int
    {
        $low = 0;
        $high = count($ends) - 1;
        while ($low <= $high) {
            $middle = ($low + $high) >> 1;
            if ($ends[$middle] === $end) {
                return $middle;
            }
            if ($ends[$middle] < $end) {
                $low = $middle + 1;
            } else {
                $high = $middle - 1;
            }
        }

        return null;
    }

    /** The last whole hour at or before an instant. */
    private static function floor(int $ms): int
    {
        return $ms - ((($ms % self::HOUR_MS) + self::HOUR_MS) % self::HOUR_MS);
    }
}
