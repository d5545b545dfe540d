<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Doctrine\DBAL\Connection;
use Olivine\App\Collect\Entity\Target;
use Olivine\App\Collect\ScrapeRefused;
use Olivine\App\Collect\TargetReader;
use Olivine\App\Platform\Database;
use Olivine\App\Store\ScrapeWriter;
use Olivine\App\Store\SeriesRegister;
use Olivine\App\Supervise\Instance;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Time\Instant;

/** Text in memory to committed rows, against LOAD DATA of the same readings into a plain table. */
final readonly class IngestMeasure implements Measure
{
    private const SCRAPES_A_COMMIT = 5;

    public function __construct(private BenchDatabase $server, private Instance $instance)
    {
    }

    public function name(): string
    {
        return 'ingest';
    }

    public function run(callable $say): void
    {
        $this->server->with(function (Database $database) use ($say): void {
            $ours = $this->ingestScrapes($database);
            $plain = $this->ingestPlainTable($database->connection);
            $say('ingest.readings_per_s', $ours, 'readings/s');
            $say('ingest.baseline_load_data', $plain, 'readings/s');
            $say('ingest.ratio', $ours / $plain, 'x');
        });
    }

    /**
     * From texts in memory to rows committed: a few scrapes a statement, and each statement commits.
     *
     * @throws ScrapeRefused
     * @throws BadExposition
     */
    private function ingestScrapes(Database $database): float
    {
        $database->connection->insert('target', [
            'name' => 'bench',
            'url' => '',
            'interval_seconds' => 15,
            'timeout_seconds' => 10,
            'labels' => '{}',
            'paused' => 0,
            'created_at' => 0,
        ]);
        $target = new Target('bench', '', Instant::ofMs(0));
        $target->id = (int) $database->connection->lastInsertId();
        $reader = new TargetReader($target, new SeriesRegister($database));
        $texts = Scrapes::texts(20);
        $reader->read($texts[0], Form::OpenMetrics, 1);
        $at = 1_795_000_000_000;
        $writer = new ScrapeWriter($database);

        return Rate::of(static function () use ($writer, $reader, $texts, &$at): int {
            $readings = 0;
            for ($i = 0; $i < 5; ++$i) {
                foreach (array_chunk($texts, self::SCRAPES_A_COMMIT) as $some) {
                    $rows = [];
                    foreach ($some as $text) {
                        array_push($rows, ...$reader->read($text, Form::OpenMetrics, $at += 15_000));
                        $readings += $reader->readings;
                    }
                    $writer->insert($rows);
                }
            }

            return $readings;
        });
    }

    /** The same readings, read already, by LOAD DATA into (series, time, value), as many scrapes a statement. */
    private function ingestPlainTable(Connection $connection): float
    {
        $connection->executeStatement(
            'CREATE TABLE plain (series INT UNSIGNED NOT NULL, at BIGINT NOT NULL, value DOUBLE NOT NULL, PRIMARY KEY (series, at)) ENGINE=InnoDB',
        );
        $file = "{$this->instance->dir}/run/plain.tsv";
        $at = 1_795_000_000_000;
        $native = $connection->getNativeConnection();
        \assert($native instanceof \PDO);

        return Rate::of(static function () use ($native, $file, &$at): int {
            $readings = 0;
            for ($statement = 0; $statement < 4; ++$statement) {
                $text = '';
                for ($scrape = 0; $scrape < self::SCRAPES_A_COMMIT; ++$scrape) {
                    $at += 15_000;
                    for ($series = 1; $series <= Scrapes::SERIES; ++$series) {
                        $text .= "{$series}\t{$at}\t" . $series * 1.25 . "\n";
                        ++$readings;
                    }
                }
                file_put_contents($file, $text);
                $native->exec('LOAD DATA LOCAL INFILE ' . $native->quote($file) . ' INTO TABLE plain');
            }

            return $readings;
        });
    }
}
