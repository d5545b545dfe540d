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
    /** @var \SplMinHeap<array{int, int}> next time and target id; entries that no longer agree with $next are passed over */
    private \SplMinHeap $heap;
    /** @var array<int, int> target id → next time, ms */
    private array $next = [];
    /** @var array<int, array{string, int}> target id → name and interval */
    private array $targets = [];

    public function __construct()
    {
        $this->heap = new \SplMinHeap();
    }

    public static function placeMs(string $name, int $intervalMs): int
    {
        return (int) ((hexdec(substr(hash('sha256', $name), 0, 8)) / 0xffffffff) * ($intervalMs - 1));
    }

    public static function firstAfter(string $name, int $intervalMs, int $atMs): int
    {
        $place = self::placeMs($name, $intervalMs);

        return (intdiv($atMs - $place, $intervalMs) + 1) * $intervalMs + $place;
    }

    /** @param array<int, array{string, int}> $targets id → name and interval, ms: all there are from now on */
    public function keep(array $targets, int $nowMs): void
    {
        $this->next = array_intersect_key($this->next, $targets);
        foreach ($targets as $id => [$name, $intervalMs]) {
            if (($this->targets[$id] ?? null) !== [$name, $intervalMs] || !isset($this->next[$id])) {
                $this->push($id, self::firstAfter($name, $intervalMs, $nowMs));
            }
        }
        $this->targets = $targets;
    }

    /**
     * These are due now; their rhythm goes on.
     *
     * @param array<int> $ids
     */
    public function now(array $ids, int $nowMs): void
    {
        foreach ($ids as $id) {
            if (isset($this->next[$id])) {
                $this->push($id, $nowMs);
            }
        }
    }

    /** @return array<int, int> at most so many that are due, target id → when it was due */
    public function due(int $nowMs, int $most): array
    {
        $due = [];
        while (count($due) < $most && !$this->heap->isEmpty() && $this->heap->top()[0] <= $nowMs) {
            [$at, $id] = $this->heap->extract();
            if (($this->next[$id] ?? null) === $at) {
                $due[$id] = $at;
                [$name, $intervalMs] = $this->targets[$id];
                $this->push($id, self::firstAfter($name, $intervalMs, $nowMs));
            }
        }

        return $due;
    }

    public function nextMs(): ?int
    {
        return $this->heap->isEmpty() ? null : $this->heap->top()[0];
    }

    private function push(int $id, int $atMs): void
    {
        $this->next[$id] = $atMs;
        $this->heap->insert([$atMs, $id]);
    }
}
