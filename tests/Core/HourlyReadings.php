<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Core\Formula\Estimate;
use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Formula\ReadingSource;
use Olivine\Core\Series\Buckets;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\Rollup;
use Olivine\Core\Series\Tier;
use Olivine\Core\Series\Window;

/** Readings that are rolled up hour by hour too, and count how many were read one by one. */
final class HourlyReadings implements ReadingSource
{
    public int $read = 0;

    public function __construct(private readonly Readings $readings, private readonly bool $isRolledUp = true)
    {
    }

    public function windows(Select $what, int $afterMs, int $throughMs): array
    {
        $windows = $this->readings->windows($what, $afterMs, $throughMs);
        $this->read += array_sum(array_map(static fn(Window $window): int => count($window->times), $windows));

        return $windows;
    }

    public function buckets(Select $what, Tier $tier, Detail $detail, int $afterMs, int $throughMs): ?array
    {
        return !$this->isRolledUp ? null : array_map(static function (Window $window) use ($tier, $afterMs, $throughMs): Buckets {
            $size = $tier->bucketMs();
            $rollup = Rollup::of($window->times, $window->values, $afterMs, $size, intdiv($throughMs - $afterMs, $size), false);
            $filled = array_keys(array_filter($rollup->counts));
            $pick = static fn(array $column): array => array_values(array_intersect_key($column, array_flip($filled)));

            return new Buckets(
                $window->labels,
                $window->staleMs,
                array_map(static fn(int $i): int => $afterMs + ($i + 1) * $size, $filled),
                $pick($rollup->counts),
                $pick($rollup->firsts),
                $pick($rollup->lasts),
                $pick($rollup->lows),
                $pick($rollup->highs),
                $pick($rollup->sums),
                null,
                $pick($rollup->firstAts),
                $pick($rollup->lastAts),
            );
        }, $this->readings->windows($what, $afterMs, $throughMs));
    }

    public function remains(Select $what, Tier $tier, int $afterMs, int $throughMs): ?array
    {
        return null;
    }

    public function alerts(string $rule, int $afterMs, int $throughMs): array
    {
        return [];
    }

    public function estimate(Select $what, int $afterMs, int $throughMs): Estimate
    {
        return $this->readings->estimate($what, $afterMs, $throughMs);
    }

    public function longestStaleMs(Select $what): int
    {
        return $this->readings->longestStaleMs($what);
    }
}
