<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\Core\Series\ScrapeValues;

/** Readings of one page: times, rising, and for each series a column with a value, or a mark, for each time. */
final readonly class PageReadings
{
    /**
     * @param list<int>               $times
     * @param array<int, list<float>> $columns by series
     */
    public function __construct(public array $times, public array $columns)
    {
    }

    /**
     * Out of scrape rows.
     *
     * @param array<int, string> $packed time → values by slot, times rising
     * @param array<int, int>    $slots  slot → series
     */
    public static function ofRows(array $packed, array $slots): self
    {
        $columns = array_fill_keys($slots, []);
        $silent = ScrapeValues::silent();
        foreach ($packed as $bytes) {
            $values = ScrapeValues::unpack($bytes);
            foreach ($slots as $slot => $series) {
                $columns[$series][] = $values[$slot] ?? $silent;
            }
        }

        return new self(array_keys($packed), $columns);
    }

    /** @return int when the last of them were read */
    public function lastAt(): int
    {
        return $this->times[count($this->times) - 1] ?? 0;
    }

    /** @return array<int, self> start of the run → what lies in it, oldest first */
    public function cut(int $runMs): array
    {
        $runs = [];
        $count = count($this->times);
        $from = 0;
        while ($from < $count) {
            $start = Span::cut($this->times[$from], $runMs);
            $to = $from;
            while ($to < $count && $this->times[$to] <= $start + $runMs) {
                ++$to;
            }
            $runs[$start] = new self(
                array_slice($this->times, $from, $to - $from),
                array_map(static fn(array $values): array => array_slice($values, $from, $to - $from), $this->columns),
            );
            $from = $to;
        }

        return $runs;
    }

    /** These and others of the same series; of two values for the same time the one that was here stays, as ScrapeValues::merge() has it. */
    public function with(self $others): self
    {
        if ($this->times === [] || $others->times === []) {
            return $this->times === [] ? $others : $this;
        }
        $times = array_values(array_unique([...$this->times, ...$others->times]));
        sort($times);
        $nothing = array_fill_keys($times, ScrapeValues::silent());
        $columns = [];
        foreach ($this->columns as $series => $values) {
            $merged = array_replace($nothing, array_combine($this->times, $values));
            foreach ($others->times as $i => $at) {
                if (
                    is_nan($merged[$at])
                    && ScrapeValues::givesWay(pack('e', $merged[$at]), pack('e', $others->columns[$series][$i]))
                ) {
                    $merged[$at] = $others->columns[$series][$i];
                }
            }
            $columns[$series] = array_values($merged);
        }

        return new self($times, $columns);
    }
}
