<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Scalar;

/** What the demo's readings take after sealing, data and indexes of every table of readings; against the bare numbers and a plain table. */
final readonly class StoreMeasure implements Measure
{
    private const TABLES = ['block', 'block_time', 'rollup_5m', 'rollup_time_5m', 'rollup_1h', 'rollup_time_1h'];
    private const PLAIN_READINGS = 500_000;

    public function __construct(private RunningInstance $demo)
    {
    }

    public function name(): string
    {
        return 'store';
    }

    public function run(callable $say): void
    {
        $connection = $this->demo->connect();
        $readings = Scalar::int($connection->fetchOne('SELECT SUM(readings) FROM block'));
        foreach (self::TABLES as $table) {
            $connection->executeQuery("ANALYZE TABLE {$table}")->free();
        }
        $bytes = $this->bytes($connection, self::TABLES);
        $say('store.bytes_per_reading', $bytes / $readings, 'bytes');
        $say('store.bytes_per_reading_blocks_alone', $this->bytes($connection, ['block', 'block_time']) / $readings, 'bytes');
        $say(
            'store.packed_bytes_per_reading',
            Scalar::int($connection->fetchOne('SELECT SUM(LENGTH(packed)) FROM block')) / $readings,
            'bytes',
        );
        $say('store.readings', $readings, 'readings');
        $say('store.baseline_raw', 16, 'bytes');
        $say('store.baseline_plain_table', $this->plain($connection), 'bytes');
    }

    /** @param list<string> $tables */
    private function bytes(Connection $connection, array $tables): int
    {
        return Scalar::int(
            $connection->fetchOne(
                'SELECT SUM(DATA_LENGTH + INDEX_LENGTH) FROM information_schema.TABLES WHERE TABLE_SCHEMA = DATABASE() AND TABLE_NAME IN (?)',
                [$tables],
                [\Doctrine\DBAL\ArrayParameterType::STRING],
            ),
        );
    }

    private function plain(Connection $connection): float
    {
        $connection->executeStatement('DROP TABLE IF EXISTS bench_plain');
        $connection->executeStatement(
            'CREATE TABLE bench_plain (series INT UNSIGNED NOT NULL, at BIGINT NOT NULL, value DOUBLE NOT NULL, PRIMARY KEY (series, at)) ENGINE=InnoDB',
        );
        try {
            $connection->executeStatement(
                'INSERT INTO bench_plain SELECT 1 + FLOOR(seq / 10000), 1795000000000 + (seq % 10000) * 15000, seq FROM seq_0_to_' .
                    (self::PLAIN_READINGS - 1),
            );
            $connection->executeQuery('ANALYZE TABLE bench_plain')->free();

            return $this->bytes($connection, ['bench_plain']) / self::PLAIN_READINGS;
        } finally {
            $connection->executeStatement('DROP TABLE bench_plain');
        }
    }
}
