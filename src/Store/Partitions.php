<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;

/**
 * One partition a day for sealed readings and one a month for roll-ups, so that letting go of them frees their disk
 * at once. Correctness never hangs on them: whatever has no partition of its own lies in the next higher one.
 */
final readonly class Partitions
{
    /** Table → how its partitions are called, by the day they begin with. */
    public const TABLES = ['block' => 'Ymd', 'block_time' => 'Ymd', 'rollup_5m' => 'Ym', 'rollup_time_5m' => 'Ym', 'rollup_1h' => 'Ym', 'rollup_time_1h' => 'Ym'];

    public function __construct(private Connection $connection)
    {
    }

    /** Makes a partition for each day, or month, from one instant through another. */
    public function cover(int $fromMs, int $toMs): void
    {
        foreach (self::TABLES as $table => $format) {
            $ends = array_column($this->of($table), 'endMs');
            $missing = [];
            for ($day = Span::dayOf($fromMs); $day <= $toMs; $day += Span::DAY_MS) {
                $end = self::endOf($format, $day);
                if (!in_array($end, $ends, true)) {
                    $missing[self::name($format, $day)] = $end;
                }
            }
            // Each missing one is cut off the front of the partition that holds its rows now.
            $byHolder = [];
            foreach ($missing as $name => $end) {
                $holder = 'later';
                foreach ($this->of($table) as $partition) {
                    if ($partition['endMs'] !== null && $partition['endMs'] > $end) {
                        $holder = $partition['name'];
                        break;
                    }
                }
                $byHolder[$holder][$name] = $end;
            }
            foreach ($byHolder as $holder => $cut) {
                $end = array_column($this->of($table), 'endMs', 'name')[$holder];
                $parts = array_map(static fn(string $name, int $end): string => sprintf('PARTITION %s VALUES LESS THAN (%d)', $name, $end), array_keys($cut), $cut);
                $parts[] = "PARTITION {$holder} VALUES LESS THAN " . ($end === null ? 'MAXVALUE' : "({$end})");
                $this->connection->executeStatement("ALTER TABLE {$table} REORGANIZE PARTITION {$holder} INTO (" . implode(', ', $parts) . ')');
            }
        }
    }

    /** @return list<array{name: string, endMs: int|null, rows: int, bytes: int}> oldest first */
    public function of(string $table): array
    {
        return array_map(static fn(array $row): array => [
            'name' => (string) $row['name'],
            'endMs' => $row['end'] === 'MAXVALUE' ? null : (int) $row['end'],
            'rows' => (int) $row['rows'],
            'bytes' => (int) $row['bytes'],
        ], $this->connection->fetchAllAssociative(
            'SELECT PARTITION_NAME AS name, PARTITION_DESCRIPTION AS end, TABLE_ROWS AS `rows`, DATA_LENGTH + INDEX_LENGTH AS bytes
             FROM information_schema.PARTITIONS WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ? AND PARTITION_NAME IS NOT NULL ORDER BY PARTITION_ORDINAL_POSITION',
            [$table],
        ));
    }

    /** @return int how many days were let go */
    public function dropBefore(string $table, int $beforeMs): int
    {
        $old = array_column(array_filter($this->of($table), static fn(array $partition): bool => $partition['endMs'] !== null && $partition['endMs'] <= $beforeMs), 'name');
        if ($old !== []) {
            $this->connection->executeStatement("ALTER TABLE {$table} DROP PARTITION " . implode(', ', $old));
        }

        return count($old);
    }

    /**
     * Packs those of some days tight: rows that came in any order leave pages half empty.
     *
     * @param list<int> $days
     */
    public function settle(array $days): void
    {
        foreach (self::TABLES as $table => $format) {
            $wanted = array_unique(array_map(static fn(int $day): string => self::name($format, $day), $days));
            $names = array_intersect(array_column($this->of($table), 'name'), $wanted);
            if ($names !== []) {
                $this->connection->executeStatement("ALTER TABLE {$table} REBUILD PARTITION " . implode(', ', $names));
                // The server's own figures of the table are stale by now.
                $this->connection->executeQuery("ANALYZE TABLE {$table}")->free();
            }
        }
    }

    private static function name(string $format, int $dayMs): string
    {
        return 'p' . gmdate($format, intdiv($dayMs, 1000));
    }

    private static function endOf(string $format, int $dayMs): int
    {
        return $format === 'Ymd' ? $dayMs + Span::DAY_MS : (int) gmmktime(0, 0, 0, (int) gmdate('n', intdiv($dayMs, 1000)) + 1, 1, (int) gmdate('Y', intdiv($dayMs, 1000))) * 1000;
    }
}
