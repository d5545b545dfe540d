<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\Core\Series\ScrapeValues;

/** Cuts the wanted series out of scrape rows, which may come in any order. */
final class RowColumns
{
    /** So few values are cut out of a row one by one; for more, all of it is unpacked. */
    private const FEW_OF_A_PAGE = 16;

    /** @var array<int, list<int>> series → times */
    private array $times = [];
    /** @var array<int, list<float>> series → values */
    private array $values = [];
    /** @var array<int, string> series → values as they stand in the rows */
    private array $packed = [];
    /** @var array<int, int> page → time of its newest row */
    private array $newest = [];
    private bool $isRising = true;

    /** @param array<int, array<int, int>> $slots page → series → its place in the page's rows */
    public function __construct(private readonly array $slots)
    {
    }

    public function take(int $page, int $at, string $row): void
    {
        $this->isRising = $this->isRising && $at > ($this->newest[$page] ?? PHP_INT_MIN);
        $this->newest[$page] = $at;
        $places = strlen($row) >> 3;
        $wanted = $this->slots[$page];
        /** @var array<int, float>|null $all */
        $all = count($wanted) > self::FEW_OF_A_PAGE ? unpack('e*', $row) : null;
        foreach ($wanted as $series => $slot) {
            if ($slot >= $places) {
                continue;
            }
            $this->times[$series][] = $at;
            if ($all === null) {
                $this->packed[$series] = ($this->packed[$series] ?? '') . substr($row, $slot << 3, 8);
            } else {
                $this->values[$series][] = $all[$slot + 1];
            }
        }
    }

    /** @return array<int, array{list<int>, list<float|null>}> series → times, rising, and values */
    public function bySeries(): array
    {
        $found = [];
        foreach ($this->times as $series => $times) {
            $values = $this->values[$series] ?? ScrapeValues::unpack($this->packed[$series]);
            if (!$this->isRising) {
                array_multisort($times, $values);
            }
            $found[$series] = is_nan((float) array_sum($values)) ? ScrapeValues::readColumn($times, $values) : [$times, $values];
        }

        return $found;
    }
}
