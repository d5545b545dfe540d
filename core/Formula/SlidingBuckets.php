<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Series\Buckets;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\Rollup;

/**
 * The same numbers as SlidingWindow, out of whole buckets: exact where windows and instants are whole multiples
 * of a bucket, and only for what a bucket still tells.
 */
final readonly class SlidingBuckets
{
    public function __construct(private Buckets $buckets)
    {
    }

    /** Whether this can be told from buckets at all. */
    public static function tells(TimeReducer $reducer): bool
    {
        return match ($reducer) {
            TimeReducer::Mean,
            TimeReducer::Min,
            TimeReducer::Max,
            TimeReducer::Sum,
            TimeReducer::Count,
            TimeReducer::First,
            TimeReducer::Last,
            TimeReducer::Range,
            TimeReducer::Change,
            TimeReducer::Growth,
            TimeReducer::Rate
                => true,
            default => false,
        };
    }

    public static function needs(TimeReducer $reducer): Detail
    {
        return in_array($reducer, [TimeReducer::Mean, TimeReducer::Sum, TimeReducer::Count], true)
            ? Detail::Sums
            : Detail::Everything;
    }

    /**
     * @param non-empty-list<int> $instants rising
     * @param float               $mustSee  the share of the window that must have been seen, 0 to 1
     *
     * @return list<float|null>
     */
    public function reduce(TimeReducer $reducer, int $windowMs, array $instants, float $mustSee = 0.0): array
    {
        $mayBeTooLittle = $mustSee > 0.0 && $reducer->needsTheWhole();
        $reduced = [];
        $low = 0;
        $high = 0;
        $count = count($this->buckets->ends);
        foreach ($instants as $at) {
            while ($high < $count && $this->buckets->ends[$high] <= $at) {
                ++$high;
            }
            while ($low < $high && $this->buckets->ends[$low] <= $at - $windowMs) {
                ++$low;
            }
            $isTold = $low < $high && (!$mayBeTooLittle || $this->isEnough($reducer, $low, $high, $at - $windowMs, $at, $mustSee));
            $reduced[] = $isTold ? $this->one($reducer, $low, $high, $at - $windowMs) : null;
        }

        return $reduced;
    }

    /**
     * The newest reading at each instant, unless it is stale.
     *
     * @param non-empty-list<int> $instants rising
     *
     * @return list<float|null>
     */
    public function newest(array $instants): array
    {
        $of = $this->buckets;
        $values = [];
        $next = 0;
        $count = count($of->ends);
        foreach ($instants as $at) {
            while ($next < $count && $of->ends[$next] <= $at) {
                ++$next;
            }
            $values[] = $next > 0 && $of->lastAts[$next - 1] >= $at - $of->staleMs ? $of->lasts[$next - 1] : null;
        }

        return $values;
    }

    private function isEnough(TimeReducer $reducer, int $low, int $high, int $startMs, int $atMs, float $mustSee): bool
    {
        $of = $this->buckets;
        $seen = Seen::of($of->staleMs, $of->bornMs);
        if (!$reducer->countsGrowth()) {
            return array_sum(array_slice($of->counts, $low, $high - $low)) >= $seen->needed($startMs, $atMs, $mustSee);
        }
        $from = $this->hasBase($low, $startMs) ? $of->lastAts[$low - 1] : $of->firstAts[$low];

        return $seen->isSpanEnough(max($startMs, $from), $of->lastAts[$high - 1], $startMs, $atMs, $mustSee);
    }

    private function one(TimeReducer $reducer, int $low, int $high, int $startMs): ?float
    {
        $of = $this->buckets;
        $length = $high - $low;
        if ($length === 1 && $reducer === TimeReducer::Mean) {
            return $of->sums[$low] / $of->counts[$low];
        }

        return match ($reducer) {
            TimeReducer::Count => (float) array_sum(array_slice($of->counts, $low, $length)),
            TimeReducer::Sum => (float) array_sum(array_slice($of->sums, $low, $length)),
            TimeReducer::Mean => array_sum(array_slice($of->sums, $low, $length)) /
                array_sum(array_slice($of->counts, $low, $length)),
            TimeReducer::Min => $this->lowest($low, $length),
            TimeReducer::Max => $this->highest($low, $length),
            TimeReducer::Range => $this->highest($low, $length) - $this->lowest($low, $length),
            TimeReducer::First => $of->firsts[$low],
            TimeReducer::Last => $of->lasts[$high - 1],
            TimeReducer::Change => $of->lasts[$high - 1] - $of->firsts[$low],
            default => $this->grown($reducer, $low, $high, $startMs),
        };
    }

    private function lowest(int $low, int $length): float
    {
        return $length === 1 ? $this->buckets->lows[$low] : min(INF, ...array_slice($this->buckets->lows, $low, $length));
    }

    private function highest(int $low, int $length): float
    {
        return $length === 1 ? $this->buckets->highs[$low] : max(-INF, ...array_slice($this->buckets->highs, $low, $length));
    }

    /** Whether a counter grows from a reading before the window. */
    private function hasBase(int $low, int $startMs): bool
    {
        return $low > 0 && $this->buckets->lastAts[$low - 1] >= $startMs - $this->buckets->staleMs;
    }

    private function grown(TimeReducer $reducer, int $low, int $high, int $startMs): ?float
    {
        $of = $this->buckets;
        $hasBase = $this->hasBase($low, $startMs);
        $last = $high - 1;
        if (!$hasBase && $of->firstAts[$low] === $of->lastAts[$last]) {
            return $reducer === TimeReducer::Growth ? 0.0 : null;
        }
        $growth = 0.0;
        for ($i = $low; $i < $high; ++$i) {
            if ($i > $low || $hasBase) {
                $growth += Rollup::growth($of->lasts[$i - 1], $of->firsts[$i]);
            }
            $growth += $of->growths[$i] ?? 0.0;
        }
        $from = $hasBase ? $of->lastAts[$low - 1] : $of->firstAts[$low];

        return $reducer === TimeReducer::Growth ? $growth : $growth / (($of->lastAts[$last] - $from) / 1000);
    }
}
