<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Formula\Node\Select;
use Olivine\Core\Series\Detail;
use Olivine\Core\Series\Tier;
use Olivine\Core\Series\Window;

/** Readings without those that had not arrived yet when an instant was looked at. */
final readonly class ReadingsAsSeen implements ReadingSource
{
    public function __construct(private ReadingSource $source, private Latecomers $latecomers, private int $seenAtMs)
    {
    }

    public function windows(Select $what, int $afterMs, int $throughMs): array
    {
        $windows = $this->source->windows($what, $afterMs, $throughMs);
        $hidden = $this->latecomers->hidden($what, $afterMs, $throughMs, $this->seenAtMs);
        if ($hidden === []) {
            return $windows;
        }
        $seen = array_map(
            static fn(Window $window): Window => self::without($window, $hidden[$window->labels->key()] ?? []),
            $windows,
        );

        return array_values(array_filter($seen, static fn(Window $window): bool => $window->times !== []));
    }

    public function buckets(Select $what, Tier $tier, Detail $detail, int $afterMs, int $throughMs): ?array
    {
        // A roll-up does not say what it was made of.
        return $this->latecomers->hidden($what, $afterMs, $throughMs, $this->seenAtMs) === []
            ? $this->source->buckets($what, $tier, $detail, $afterMs, $throughMs)
            : null;
    }

    public function remains(Select $what, Tier $tier, int $afterMs, int $throughMs): ?array
    {
        return $this->source->remains($what, $tier, $afterMs, $throughMs);
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

    /** @param array<int, true> $hidden times */
    private static function without(Window $window, array $hidden): Window
    {
        if ($hidden === []) {
            return $window;
        }
        $times = [];
        $values = [];
        foreach ($window->times as $i => $time) {
            if (!isset($hidden[$time])) {
                $times[] = $time;
                $values[] = $window->values[$i];
            }
        }

        return new Window($window->labels, $times, $values, $window->staleMs, $window->bornMs);
    }
}
