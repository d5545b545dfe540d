<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

/**
 * When each target is due. Each has a fixed place in its interval, by a hash of its name, so that scrapes spread
 * evenly and a restart keeps the rhythm.
 *
 * With 15 s and place 4.2 s a target is due at 00:00:04.2, :19.2, :34.2 … A time that passed while its
 * forerunner still ran, or while nobody ran, is left out, not made up for.
 */
final class Schedule
{
    /** @var array<int, int> target id → next time, ms */
    private array $next = [];

    public static function placeMs(string $name, int $intervalMs): int
    {
        return (int) (hexdec(substr(hash('sha256', $name), 0, 8)) / 0xFFFFFFFF * ($intervalMs - 1));
    }

    public static function firstAfter(string $name, int $intervalMs, int $atMs): int
    {
        $place = self::placeMs($name, $intervalMs);

        return (intdiv($atMs - $place, $intervalMs) + 1) * $intervalMs + $place;
    }

    public function isDue(int $id, string $name, int $intervalMs, int $nowMs): bool
    {
        $this->next[$id] ??= self::firstAfter($name, $intervalMs, $nowMs);
        if ($this->next[$id] > $nowMs) {
            return false;
        }
        $this->next[$id] = self::firstAfter($name, $intervalMs, $nowMs);

        return true;
    }

    public function nextMs(): ?int
    {
        return $this->next === [] ? null : min($this->next);
    }

    /** @param list<int> $ids */
    public function keepOnly(array $ids): void
    {
        $this->next = array_intersect_key($this->next, array_flip($ids));
    }

    public function forget(int $id): void
    {
        unset($this->next[$id]);
    }
}
