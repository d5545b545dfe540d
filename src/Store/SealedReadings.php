<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\App\Platform\Database;
use Olivine\Core\Series\DamagedBlock;
use Olivine\Core\Series\ScrapeValues;

/** Tells which readings are sealed already. */
final readonly class SealedReadings
{
    private SealedRuns $runs;

    public function __construct(private Database $database)
    {
        $this->runs = new SealedRuns($database->connection);
    }

    /**
     * Within a transaction.
     *
     * @param list<ScrapeRow> $rows
     *
     * @return list<ScrapeRow> without what stands in a block already
     *
     * @throws DamagedBlock where what is stored is not what was written
     */
    public function unknown(array $rows): array
    {
        $byPage = [];
        foreach ($rows as $row) {
            $byPage[$row->page][] = $row;
        }

        return array_merge(...array_map($this->unknownOf(...), array_keys($byPage), array_values($byPage)), ...[[]]);
    }

    /**
     * @param non-empty-list<ScrapeRow> $rows of one page
     *
     * @return list<ScrapeRow>
     *
     * @throws DamagedBlock
     */
    private function unknownOf(int $page, array $rows): array
    {
        $times = array_map(static fn(ScrapeRow $row): int => $row->atMs, $rows);
        $runs = $this->runs->times($page, Span::dayOf(min($times)), max($times) + 1);
        if ($runs === []) {
            return $rows;
        }
        $series = PageSeries::of($this->database->connection, $page);
        // Of what is damaged nothing is known.
        $sealed = $this->runs->readings($runs, $series->ids(), static fn(): null => null);
        $places = array_flip($sealed->times);
        $unknown = [];
        foreach ($rows as $row) {
            $place = $places[$row->atMs] ?? null;
            $new = $place === null ? $row->values : ScrapeValues::news(self::rowAt($sealed, $series, $place), $row->values);
            if ($new !== '') {
                $unknown[] = new ScrapeRow($page, $row->atMs, $new);
            }
        }

        return $unknown;
    }

    private static function rowAt(PageReadings $sealed, PageSeries $series, int $place): string
    {
        $row = '';
        for ($slot = 0, $last = max([0, ...array_keys($series->slots)]); $slot <= $last; ++$slot) {
            $id = $series->slots[$slot] ?? null;
            $row .= $id === null ? ScrapeValues::SILENT : pack('e', $sealed->columns[$id][$place]);
        }

        return $row;
    }
}
