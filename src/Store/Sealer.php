<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Database;
use Olivine\Core\Series\ScrapeValues;

/** Turns old scrape rows into blocks: one transaction a page and span, so no reading is there twice or not at all. */
final readonly class Sealer
{
    /** A span is sealed when it has been over for this long. */
    private const SETTLE_MS = 600_000;
    private const PAGES_A_ROUND = 20;

    public function __construct(private Database $database, private BlockWriter $blocks)
    {
    }

    /** @return int how many pages were sealed; 0 when nothing is left to do */
    public function round(int $nowMs): int
    {
        $bound = intdiv($nowMs - self::SETTLE_MS, BlockWriter::SPAN_MS) * BlockWriter::SPAN_MS;
        $oldest = $this->database->connection->fetchAllKeyValue(
            'SELECT page, MIN(at) FROM scrape_row GROUP BY page HAVING MIN(at) < ? LIMIT ' . self::PAGES_A_ROUND,
            [$bound],
        );
        foreach ($oldest as $page => $at) {
            $this->seal((int) $page, intdiv((int) $at, BlockWriter::SPAN_MS) * BlockWriter::SPAN_MS);
        }

        return count($oldest);
    }

    private function seal(int $page, int $fromMs): void
    {
        $this->database->transaction(function (Connection $connection) use ($page, $fromMs): void {
            $span = [$page, $fromMs, $fromMs + BlockWriter::SPAN_MS];
            $rows = $connection->fetchAllNumeric('SELECT at, packed FROM scrape_row WHERE page = ? AND at >= ? AND at < ? ORDER BY at FOR UPDATE', $span);
            $slots = $connection->fetchAllKeyValue('SELECT slot, id FROM series WHERE page = ?', [$page]);
            $times = [];
            $columns = [];
            $absent = ScrapeValues::absent();
            foreach ($rows as [$at, $packed]) {
                $times[] = (int) $at;
                /** @var array<int, float> $values */
                $values = unpack('e*', (string) $packed);
                foreach ($slots as $slot => $series) {
                    $columns[(int) $series][] = $values[$slot + 1] ?? $absent;
                }
            }
            if ($times !== []) {
                $this->blocks->write($page, $times, $columns);
            }
            $connection->executeStatement('DELETE FROM scrape_row WHERE page = ? AND at >= ? AND at < ?', $span);
        });
    }
}
