<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/**
 * The buckets of one histogram over a window: how much each counted at or under its bound.
 *
 * By example, bounds 0.1, 0.3, +Inf with 60, 90, 100 counted. percentile(75): the 75th of 100 lies in (0.1, 0.3],
 * half of the way from the 60th to the 90th, so 0.2. shareBelow(0.2): 60 + half of 30 of 100, so 0.75.
 */
final readonly class HistogramBuckets
{
    /**
     * @param non-empty-list<float> $bounds rising
     * @param non-empty-list<float> $counts rising
     */
    private function __construct(private array $bounds, private array $counts)
    {
    }

    /**
     * Counts that fall, as where one bucket was read and the next was not yet, are those before them.
     *
     * @param non-empty-list<float> $bounds rising
     * @param non-empty-list<float> $counts one a bound
     */
    public static function inOrder(array $bounds, array $counts): self
    {
        $most = 0.0;
        $rising = [];
        foreach ($counts as $count) {
            $rising[] = $most = $count > $most ? $count : $most;
        }

        return new self($bounds, $rising);
    }

    /** A bound is a number, however the label le writes it: 1, 1.0 and 1e0 are one bucket. NaN where it is none. */
    public static function bound(string $le): float
    {
        return match (strtolower(ltrim($le, '+'))) {
            'inf', 'infinity' => INF,
            '-inf', '-infinity' => -INF,
            default => is_numeric($le) ? (float) $le : NAN,
        };
    }

    /**
     * @param float $percent 0 to 100
     *
     * @return float|null null where nothing was counted; where it lies above the highest bound, that bound
     */
    public function percentile(float $percent): ?float
    {
        $all = $this->counts[array_key_last($this->counts)];
        if (!($all > 0)) {
            return null;
        }
        $rank = ($percent / 100) * $all;
        foreach ($this->counts as $i => $count) {
            if ($count < $rank || $count <= 0.0) {
                continue;
            }
            $upper = $this->bounds[$i];
            if (is_infinite($upper)) {
                return $i === 0 ? null : $this->bounds[$i - 1];
            }
            $lower = $i === 0 ? min(0.0, $upper) : $this->bounds[$i - 1];
            $before = $i === 0 ? 0.0 : $this->counts[$i - 1];

            return $lower + (($upper - $lower) * ($rank - $before)) / ($count - $before);
        }

        return null;
    }

    /** @return float|null 0 to 1; what lies above the highest finite bound is not at or under a bound beyond it */
    public function shareBelow(float $bound): ?float
    {
        $all = $this->counts[array_key_last($this->counts)];
        if (!($all > 0)) {
            return null;
        }
        $lower = null;
        $before = 0.0;
        foreach ($this->bounds as $i => $upper) {
            if ($bound === $upper || ($bound >= $upper && ($this->bounds[$i + 1] ?? INF) === INF)) {
                return $this->counts[$i] / $all;
            }
            if ($bound < $upper) {
                $lower ??= min(0.0, $upper);
                if ($bound <= $lower || is_infinite($upper)) {
                    return $before / $all;
                }

                return ($before + (($this->counts[$i] - $before) * ($bound - $lower)) / ($upper - $lower)) / $all;
            }
            $lower = $upper;
            $before = $this->counts[$i];
        }

        return $before / $all;
    }
}
