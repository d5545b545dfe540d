<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Doctrine\DBAL\Connection;
use Olivine\App\Platform\Scalar;

/** What readings take on disk, measured on what is stored. */
final readonly class StoreCost
{
    /** Until something is sealed there is nothing to measure: what the demo's readings take. */
    private const USUAL_BYTES = 1.3;

    public function __construct(private Connection $connection)
    {
    }

    /** All tables of readings, data and indexes, by the readings in them. */
    public function bytesPerReading(): float
    {
        $readings = Scalar::int($this->connection->fetchOne('SELECT COALESCE(SUM(readings), 0) FROM block'));

        return $readings < 1_000_000 ? self::USUAL_BYTES : $this->sealedBytes() / $readings;
    }

    public function sealedBytes(): int
    {
        return Scalar::int(
            $this->connection->fetchOne(
                "SELECT SUM(DATA_LENGTH + INDEX_LENGTH) FROM information_schema.TABLES
             WHERE TABLE_SCHEMA = DATABASE()
             AND TABLE_NAME IN ('block', 'block_time', 'rollup_5m', 'rollup_time_5m', 'rollup_1h', 'rollup_time_1h')",
            ),
        );
    }
}
