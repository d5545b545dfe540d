<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\Tier;
use Olivine\Core\Series\Window;

/**
 * Readings as they would be if from now on each series stayed at what was read last, and each counter grew as it did last. With
 * 500 a minute ago and 100 now, a mean over five minutes is at 100 when the last 500 has left its window.
 */
final readonly class GoingOn implements ReadingSource
{
    /** @param list<string> $counters the metrics that grow */
    public function __construct(private ReadingSource $source, private int $nowMs, private array $counters)
    {
    }

    public function windows(Select $what, int $afterMs, int $throughMs): array
    {
        if ($throughMs <= $this->nowMs) {
            return $this->source->windows($what, $afterMs, $throughMs);
        }
        $windows = [];
        $isCounter = in_array($what->metric, $this->counters, true);
        $back = min($afterMs, $this->nowMs - $this->source->longestStaleMs($what) - 1);
        foreach ($this->source->windows($what, $back, $this->nowMs) as $window) {
            $windows[] = $this->extended($window, $isCounter, $afterMs, $throughMs);
        }

        return array_values(array_filter($windows, static fn(Window $window): bool => $window->times !== []));
    }

    public function buckets(Select $what, Tier $tier, Detail $detail, int $afterMs, int $throughMs): ?array
    {
        return $throughMs <= $this->nowMs ? $this->source->buckets($what, $tier, $detail, $afterMs, $throughMs) : null;
    }

    public function remains(Select $what, Tier $tier, int $afterMs, int $throughMs): ?array
    {
        return $throughMs <= $this->nowMs ? $this->source->remains($what, $tier, $afterMs, $throughMs) : null;
    }

    public function alerts(string $rule, int $afterMs, int $throughMs): array
    {
        return $this->source->alerts($rule, $afterMs, $throughMs);
    }

    public function estimate(Select $what, int $afterMs, int $throughMs): Estimate
    {
        return $this->source->estimate($what, $afterMs, $throughMs);
    }

    public function longestStaleMs(Select $what): int
    {
        return $this->source->longestStaleMs($what);
    }

    private function extended(Window $window, bool $isCounter, int $afterMs, int $throughMs): Window
    {
        $times = $window->times;
        $values = $window->values;
        $newest = count($times) - 1;
        $last = $values[$newest] ?? null;
        if ($last !== null && $times[$newest] >= $this->nowMs - $window->staleMs) {
            $intervalMs = max(1_000, intdiv($window->staleMs, Window::STALE_INTERVALS));
            $growth = $isCounter ? max(0.0, $last - ($values[$newest - 1] ?? $last)) : 0.0;
            for ($at = $times[$newest] + $intervalMs; $at <= $throughMs; $at += $intervalMs) {
                $times[] = $at;
                $values[] = $last += $growth;
            }
        }
        $inside = array_filter($times, static fn(int $at): bool => $at > $afterMs);

        return new Window(
            $window->labels,
            array_values($inside),
            array_values(array_intersect_key($values, $inside)),
            $window->staleMs,
            $window->bornMs,
        );
    }
}
