<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Olivine\Core\Series\BlockCodec;
use Olivine\Core\Series\ScrapeValues;

/** What is sealed of a page, run by run: a run is what one block of each series holds. */
final readonly class SealedRuns
{
    public function __construct(private Connection $connection)
    {
    }

    /** @return array<int, non-empty-list<int>> start of the run → its times, oldest first; locked until the transaction ends */
    public function times(int $page, int $fromMs, int $untilMs): array
    {
        $times = [];
        foreach ($this->connection->fetchAllKeyValue('SELECT from_at, packed FROM block_time WHERE page = ? AND from_at >= ? AND from_at < ? ORDER BY from_at FOR UPDATE', [$page, $fromMs, $untilMs]) as $from => $packed) {
            $times[(int) $from] = BlockCodec::unpackTimes((string) $packed);
        }

        return $times;
    }

    /**
     * @param array<int, non-empty-list<int>> $runs   start → times, oldest first
     * @param list<int>                       $series
     */
    public function readings(array $runs, array $series): PageReadings
    {
        if ($runs === []) {
            return new PageReadings([], []);
        }
        $found = [];
        $blocks = $this->connection->executeQuery('SELECT series, from_at, packed FROM block WHERE series IN (?) AND from_at >= ? AND from_at <= ?', [$series, array_key_first($runs), array_key_last($runs)], [ArrayParameterType::INTEGER, ParameterType::INTEGER, ParameterType::INTEGER]);
        foreach ($blocks->iterateNumeric() as [$id, $from, $packed]) {
            $found[(int) $id][(int) $from] = (string) $packed;
        }
        $columns = [];
        $silent = ScrapeValues::silent();
        foreach ($series as $id) {
            $parts = [];
            foreach ($runs as $from => $times) {
                $parts[] = isset($found[$id][$from]) ? BlockCodec::unpack($found[$id][$from]) : array_fill(0, count($times), $silent);
            }
            $columns[$id] = array_merge(...$parts);
        }

        return new PageReadings(array_merge(...array_values($runs)), $columns);
    }
}
