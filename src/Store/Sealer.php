<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Olivine\App\Platform\Database;
use Olivine\Core\Series\BlockCodec;
use Olivine\Core\Series\ScrapeValues;

/**
 * Turns old scrape rows into blocks and roll-ups: one transaction a page and span, so no reading is there twice or
 * not at all. Rows that come after their span was sealed are laid into its blocks.
 */
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
        $bound = Span::startOf($nowMs - self::SETTLE_MS);
        $oldest = $this->database->connection->fetchAllKeyValue(
            'SELECT page, MIN(at) FROM scrape_row GROUP BY page HAVING MIN(at) <= ? LIMIT ' . self::PAGES_A_ROUND,
            [$bound],
        );
        foreach ($oldest as $page => $at) {
            $this->seal((int) $page, Span::startOf((int) $at));
        }

        return count($oldest);
    }

    private function seal(int $page, int $start): void
    {
        $this->database->transaction(function (Connection $connection) use ($page, $start): void {
            $span = [$page, $start, $start + Span::MS];
            $rows = $connection->fetchAllNumeric('SELECT at, packed FROM scrape_row WHERE page = ? AND at > ? AND at <= ? ORDER BY at FOR UPDATE', $span);
            $slots = [];
            $counters = [];
            foreach ($connection->fetchAllNumeric("SELECT s.slot, s.id, m.type IN ('counter', 'histogram', 'summary') FROM series s JOIN metric m ON m.id = s.metric_id WHERE s.page = ?", [$page]) as [$slot, $id, $counts]) {
                $slots[(int) $slot] = (int) $id;
                if ((int) $counts === 1) {
                    $counters[(int) $id] = true;
                }
            }
            $byTime = $this->sealed($connection, $page, $start, $slots);
            foreach ($rows as [$at, $packed]) {
                $byTime[(int) $at] = isset($byTime[(int) $at]) ? ScrapeValues::merge($byTime[(int) $at], (string) $packed) : (string) $packed;
            }
            ksort($byTime);
            $columns = [];
            $silent = ScrapeValues::silent();
            foreach ($byTime as $bytes) {
                $values = ScrapeValues::unpack($bytes);
                foreach ($slots as $slot => $series) {
                    $columns[$series][] = $values[$slot] ?? $silent;
                }
            }
            $times = array_keys($byTime);
            if ($times !== []) {
                $this->blocks->write($page, $times, $columns, $counters);
            }
            $connection->executeStatement('DELETE FROM scrape_row WHERE page = ? AND at > ? AND at <= ?', $span);
        });
    }

    /**
     * What the span holds already, as rows again.
     *
     * @param array<int, int> $slots slot → series
     *
     * @return array<int, string> time → values
     */
    private function sealed(Connection $connection, int $page, int $start, array $slots): array
    {
        $packedTimes = $connection->fetchOne('SELECT packed FROM block_time WHERE page = ? AND from_at = ? FOR UPDATE', [$page, $start]);
        if (!is_string($packedTimes)) {
            return [];
        }
        $times = BlockCodec::unpackTimes($packedTimes);
        $width = $slots === [] ? 0 : max(array_keys($slots)) + 1;
        $rows = array_fill(0, count($times), array_fill(0, $width, ScrapeValues::silent()));
        $slotOf = array_flip($slots);
        $blocks = $connection->executeQuery('SELECT series, packed FROM block WHERE series IN (?) AND from_at = ?', [array_values($slots), $start], [ArrayParameterType::INTEGER, ParameterType::INTEGER]);
        foreach ($blocks->iterateNumeric() as [$series, $packed]) {
            foreach (BlockCodec::unpack((string) $packed) as $i => $value) {
                $rows[$i][$slotOf[(int) $series]] = $value;
            }
        }

        return array_combine($times, array_map(static fn(array $row): string => ScrapeValues::pack(array_values($row)), $rows));
    }
}
