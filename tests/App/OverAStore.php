<?php

declare(strict_types=1);

namespace Olivine\Tests\App;

use Olivine\App\Collect\Entity\Target;
use Olivine\App\Platform\Database;
use Olivine\App\Store\ScrapeRow;
use Olivine\App\Store\ScrapeWriter;
use Olivine\App\Store\SeriesIndex;
use Olivine\App\Store\StoredReadings;
use Olivine\App\Store\StoredRollups;
use Olivine\Core\Time\Instant;

/** What tests of the store do over and over: targets, rows, and what a reader makes of them. */
trait OverAStore
{
    private static function readings(Database $database): StoredReadings
    {
        return new StoredReadings($database->connection, new SeriesIndex($database->connection), new StoredRollups($database->connection));
    }

    private function target(Database $database, string $name, int $seconds = 15): Target
    {
        $target = new Target($name, 'http://example.invalid/', Instant::ofMs(0));
        $target->intervalSeconds = $seconds;
        $database->connection->insert('target', [
            'name' => $name,
            'url' => '',
            'interval_seconds' => $seconds,
            'timeout_seconds' => 10,
            'labels' => '{}',
            'paused' => 0,
            'created_at' => 0,
        ]);
        $target->id = (int) $database->connection->lastInsertId();

        return $target;
    }

    /** @param list<ScrapeRow> $rows */
    private function write(Database $database, array $rows): void
    {
        (new ScrapeWriter($database))->insert($rows);
    }

    /**
     * @param list<\Olivine\Core\Series\Window> $windows
     *
     * @return array{int, float}
     */
    private static function total(array $windows): array
    {
        $count = 0;
        $sum = 0.0;
        foreach ($windows as $window) {
            $present = array_filter($window->values, static fn(?float $value): bool => $value !== null && !is_nan($value));
            $count += count($present);
            $sum += array_sum($present);
        }

        return [$count, round($sum, 3)];
    }
}
