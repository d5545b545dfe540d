<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Scalar;

/**
 * One partition for two days of sealed readings and one a month for roll-ups, so that letting go of them frees their
 * disk at once; the server takes room by the megabyte, of which a single day of a small store would leave half unused.
 * Correctness never hangs on them: whatever has no partition of its own lies in the next higher one.
 */
final readonly class Partitions
{
    public const TABLES = ['block', 'block_time', 'rollup_5m', 'rollup_time_5m', 'rollup_1h', 'rollup_time_1h'];
    private const OF_READINGS = ['block', 'block_time'];
    private const READINGS_MS = 2 * Span::DAY_MS;
    private const WEEK_MS = 7 * Span::DAY_MS;

    public function __construct(private Connection $connection)
    {
    }

    /** Makes the partitions that reach from one instant through another. */
    public function cover(int $fromMs, int $toMs): void
    {
        foreach (self::TABLES as $table) {
            $ends = array_column($this->of($table), 'endMs');
            $missing = [];
            for ($day = Span::dayOf($fromMs); $day <= $toMs; $day += Span::DAY_MS) {
                $end = self::endOf($table, $day);
                if (!in_array($end, $ends, true)) {
                    $missing[self::name($table, $end)] = $end;
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
                $parts = array_map(
                    static fn(string $name, int $end): string => sprintf('PARTITION %s VALUES LESS THAN (%d)', $name, $end),
                    array_keys($cut),
                    $cut,
                );
                $parts[] = "PARTITION {$holder} VALUES LESS THAN " . ($end === null ? 'MAXVALUE' : "({$end})");
                $this->connection->executeStatement(
                    "ALTER TABLE {$table} REORGANIZE PARTITION {$holder} INTO (" . implode(', ', $parts) . ')',
                );
            }
        }
    }

    /** @return list<array{name: string, endMs: int|null, rows: int, bytes: int}> oldest first */
    public function of(string $table): array
    {
        return array_map(
            static fn(array $row): array => [
                'name' => Scalar::text($row['name']),
                'endMs' => $row['end'] === 'MAXVALUE' ? null : Scalar::int($row['end']),
                'rows' => Scalar::int($row['rows']),
                'bytes' => Scalar::int($row['bytes']),
            ],
            $this->connection->fetchAllAssociative(
                'SELECT PARTITION_NAME AS name, PARTITION_DESCRIPTION AS end, TABLE_ROWS AS `rows`, DATA_LENGTH + INDEX_LENGTH AS bytes
             FROM information_schema.PARTITIONS WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME = ? AND PARTITION_NAME IS NOT NULL
             ORDER BY PARTITION_ORDINAL_POSITION',
                [$table],
            ),
        );
    }

    /** @return int how many were let go */
    public function dropBefore(string $table, int $beforeMs): int
    {
        $old = array_column(
            array_filter(
                $this->of($table),
                static fn(array $partition): bool => $partition['endMs'] !== null && $partition['endMs'] <= $beforeMs,
            ),
            'name',
        );
        if ($old !== []) {
            $this->connection->executeStatement("ALTER TABLE {$table} DROP PARTITION " . implode(', ', $old));
        }

        return count($old);
    }

    /**
     * Packs tight those that end with a day, once a week also those that go on, or all: rows that come in any order
     * leave pages half empty.
     */
    public function packTight(?int $endMs = null): void
    {
        foreach (self::TABLES as $table) {
            $this->count($table);
            $names = array_column(
                array_filter(
                    $this->of($table),
                    static fn(array $partition): bool => $partition['rows'] > 0
                        && self::isDue($partition['endMs'] ?? PHP_INT_MAX, $endMs),
                ),
                'name',
            );
            if ($names !== []) {
                $this->connection->executeStatement("ALTER TABLE {$table} REBUILD PARTITION " . implode(', ', $names));
                $this->count($table);
            }
        }
    }

    private static function isDue(int $endMs, ?int $nowMs): bool
    {
        return $nowMs === null || ($nowMs % self::WEEK_MS === 0 ? $endMs >= $nowMs : $endMs === $nowMs);
    }

    /** The server's own figures of a table are of some time ago. */
    private function count(string $table): void
    {
        $this->connection->executeQuery("ANALYZE TABLE {$table}")->free();
    }

    /** Called by the last day they hold, or by their month. */
    private static function name(string $table, int $endMs): string
    {
        return 'p' . gmdate(in_array($table, self::OF_READINGS, true) ? 'Ymd' : 'Ym', intdiv($endMs - 1, 1000));
    }

    private static function endOf(string $table, int $dayMs): int
    {
        return in_array($table, self::OF_READINGS, true)
            ? (intdiv($dayMs, self::READINGS_MS) + 1) * self::READINGS_MS
            : (int) gmmktime(0, 0, 0, (int) gmdate('n', intdiv($dayMs, 1000)) + 1, 1, (int) gmdate('Y', intdiv($dayMs, 1000))) *
                    1000;
    }
}
