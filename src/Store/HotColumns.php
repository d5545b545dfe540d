<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\Core\Series\ScrapeValues;
use Olivine\Core\Series\Window;

/** The newest readings of some series, which grow row by row. Series that were in every row of their page share its list of times. */
final class HotColumns
{
    /** So many readings more than are wanted may stay before they are cut off: cutting each time would take longer. */
    private const SLACK = 1.25;

    /** @var array<int, list<int>> page → times of its rows */
    private array $timesOf = [];
    /** @var array<int, list<float|null>> series → values */
    private array $values = [];
    /** @var array<int, true> series with a value that is no number */
    private array $mixed = [];
    /** @var array<int, list<int>> series → times, of those that were not in every row */
    private array $ownTimes = [];

    /**
     * @param array<int, array<int, int>> $slots   page → series → its place in the page's rows
     * @param int                         $afterMs from where on all is there
     */
    private function __construct(public array $slots, public int $afterMs, private int $throughMs)
    {
    }

    /**
     * @param list<IndexedSeries>          $selected
     * @param array<int, list<int>>        $times    series → times of its readings, rising
     * @param array<int, list<float|null>> $values   series → its readings
     */
    public static function of(array $selected, array $times, array $values, int $afterMs, int $throughMs): self
    {
        $columns = new self([], $afterMs, $throughMs);
        $columns->take($selected, $times, $values);

        return $columns;
    }

    public function throughMs(): int
    {
        return $this->throughMs;
    }

    /**
     * @param list<IndexedSeries> $selected
     *
     * @return list<IndexedSeries> of these that are not there yet
     */
    public function without(array $selected): array
    {
        $new = [];
        foreach ($selected as $series) {
            if (!isset($this->slots[$series->page][$series->id])) {
                $new[] = $series;
            }
        }

        return $new;
    }

    /**
     * Series that are new here, with what is known of them up to where the others are.
     *
     * @param list<IndexedSeries>          $selected
     * @param array<int, list<int>>        $times
     * @param array<int, list<float|null>> $values
     */
    public function take(array $selected, array $times, array $values): void
    {
        $longest = [];
        foreach ($selected as $series) {
            $own = $times[$series->id] ?? [];
            $longest[$series->page] = count($own) > count($longest[$series->page] ?? []) ? $own : $longest[$series->page] ?? [];
        }
        // Most series of a page were in all of its rows, so the longest list is that of the page.
        $this->timesOf += $longest;
        foreach ($selected as $series) {
            $this->slots[$series->page][$series->id] = $series->slot;
            $own = $times[$series->id] ?? [];
            $this->values[$series->id] = $values[$series->id] ?? [];
            $known = $this->values[$series->id];
            if (in_array(null, $known, true) || is_nan((float) array_sum($known))) {
                $this->mixed[$series->id] = true;
            }
            if ($own !== $this->timesOf[$series->page]) {
                $this->ownTimes[$series->id] = $own;
            }
        }
    }

    /**
     * @param iterable<array{int, int, string}> $rows    page, time and what is packed, in the order of time
     * @param int                               $afterMs readings up to there are not wanted any more
     */
    public function add(iterable $rows, int $afterMs, int $throughMs): void
    {
        foreach ($rows as [$page, $at, $row]) {
            $this->addRow($page, $at, $row);
        }
        $this->afterMs = $afterMs;
        $this->throughMs = $throughMs;
        foreach ($this->timesOf as $page => $times) {
            $this->cut($page, $times, $afterMs);
        }
        foreach ($this->ownTimes as $series => $times) {
            $old = self::old($times, $afterMs);
            if ($old > 0) {
                $this->ownTimes[$series] = array_slice($times, $old);
                $this->values[$series] = array_slice($this->values[$series], $old);
            }
        }
    }

    /**
     * @param list<IndexedSeries> $selected
     *
     * @return list<Window>
     */
    public function windows(array $selected): array
    {
        $windows = [];
        foreach ($selected as $series) {
            $own = $this->ownTimes[$series->id] ?? null;
            $times = $own ?? $this->timesOf[$series->page];
            $isWhole = $own === null && !isset($this->mixed[$series->id]);
            if ($times !== []) {
                $windows[] = new Window($series->labels, $times, $this->values[$series->id], $series->staleMs, $series->firstMs, $isWhole);
            }
        }

        return $windows;
    }

    /** @return int how many values are held */
    public function count(): int
    {
        $count = 0;
        foreach ($this->timesOf as $page => $times) {
            $count += count($times) * count($this->slots[$page]);
        }

        return $count;
    }

    private function addRow(int $page, int $at, string $row): void
    {
        $places = strlen($row) >> 3;
        /** @var array<int, float> $all */
        $all = unpack('e*', $row);
        $isWhole = !is_nan((float) array_sum($all));
        foreach ($this->slots[$page] as $series => $slot) {
            $isThere = $slot < $places && ($isWhole || !is_nan($all[$slot + 1]));
            if ($isThere && !isset($this->ownTimes[$series])) {
                $this->values[$series][] = $all[$slot + 1];
                continue;
            }
            $this->ownTimes[$series] ??= $this->timesOf[$page];
            if ($slot < $places) {
                [$times, $values] = ScrapeValues::readColumn([$at], [$all[$slot + 1]]);
                array_push($this->ownTimes[$series], ...$times);
                array_push($this->values[$series], ...$values);
            }
        }
        $this->timesOf[$page][] = $at;
    }

    /** @param list<int> $times of the page */
    private function cut(int $page, array $times, int $afterMs): void
    {
        $old = self::old($times, $afterMs);
        if ($old === 0 || count($times) < self::SLACK * (count($times) - $old)) {
            return;
        }
        $this->timesOf[$page] = array_slice($times, $old);
        foreach ($this->slots[$page] as $series => $_) {
            if (!isset($this->ownTimes[$series])) {
                $this->values[$series] = array_slice($this->values[$series], $old);
            }
        }
    }

    /** @param list<int> $times */
    private static function old(array $times, int $afterMs): int
    {
        $old = 0;
        $count = count($times);
        while ($old < $count && $times[$old] <= $afterMs) {
            ++$old;
        }

        return $old;
    }
}
