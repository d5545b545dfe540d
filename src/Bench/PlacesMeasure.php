<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Collect\Station\Result;
use Olivine\App\Platform\Database;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\Scalar;
use Olivine\App\Supervise\Instance;
use Olivine\Core\Check\CheckReading;
use Olivine\Core\Check\Phases;
use Olivine\Core\Check\Verdict;

/**
 * What fifty stations bring that ask 200 checks a minute each: how long it waits until the one collector has taken it over. Then one of them
 * comes back that was cut off for an hour, and brings all of it at once beside the others.
 */
final readonly class PlacesMeasure implements Measure
{
    private const PLACES = 50;
    private const CHECKS = 200;
    private const ROUND_SECONDS = 60;
    private const ROUNDS_TO_SETTLE = 2;
    private const HOUR_ROUNDS = 60;
    private const ROWS_A_STATEMENT = 500;
    private const PATIENCE_SECONDS = 600;

    public function __construct(private BenchDatabase $server, private Instance $instance)
    {
    }

    public function name(): string
    {
        return 'places';
    }

    public function run(callable $say): void
    {
        $this->server->with(function (Database $database) use ($say): void {
            $checks = $this->set($database);
            $collector = new MeasuredCollector($database, $this->instance->projectDir());
            try {
                for ($round = 0; $round < self::ROUNDS_TO_SETTLE; ++$round) {
                    $this->round($database, $checks);
                }
                $this->drained($database);
                $before = $collector->cpu();
                $longest = $this->round($database, $checks);
                $say('places.core_share', 100 * ($collector->cpu() - $before) / self::ROUND_SECONDS, '% of one core');
                $say('places.waits_longest', $longest * 1000, 'ms');
                $from = microtime(true);
                for ($back = self::HOUR_ROUNDS; $back > 0; --$back) {
                    $this->bring($database, $checks, 2, (int) (microtime(true) * 1000) - $back * 1000 * self::ROUND_SECONDS);
                }
                $this->drained($database);
                $say('places.hour_taken', microtime(true) - $from, 's');
                $say('places.rows', Scalar::float($database->connection->fetchOne('SELECT COUNT(*) FROM scrape_row')), 'rows kept');
            } finally {
                $collector->stop();
            }
        });
    }

    /** @return list<int> */
    private function set(Database $database): array
    {
        $ids = range(2, self::PLACES + 1);
        $database->insertNew('place', ['id', 'name', 'created_at'], array_map(static fn(int $id): array => [$id, "pier {$id}", 0], $ids));
        $rows = [];
        for ($i = 0; $i < self::CHECKS; ++$i) {
            $asks = json_encode(['kind' => 'tcp', 'host' => '127.0.0.1', 'port' => 9], JSON_THROW_ON_ERROR);
            $rows[] = ["check-{$i}", '', 'tcp', $asks, json_encode($ids, JSON_THROW_ON_ERROR), self::ROUND_SECONDS, 10, '{}', 0, 0];
        }
        $columns = ['name', 'url', 'kind', 'asks', 'places', 'interval_seconds', 'timeout_seconds', 'labels', 'paused', 'created_at'];
        $database->insertNew('target', $columns, $rows);

        return array_values(Scalar::ints($database->connection->fetchFirstColumn('SELECT id FROM target ORDER BY id')));
    }

    /**
     * A minute in which each place brings what it saw, one after the other.
     *
     * @param list<int> $checks
     *
     * @return float the longest that anything waited meanwhile, seconds
     */
    private function round(Database $database, array $checks): float
    {
        $from = microtime(true);
        $longest = 0.0;
        for ($place = 2; $place <= self::PLACES + 1; ++$place) {
            $this->bring($database, $checks, $place, (int) (microtime(true) * 1000));
            $next = $from + ($place - 1) * self::ROUND_SECONDS / self::PLACES;
            do {
                $oldest = $database->connection->fetchOne('SELECT MIN(at) FROM arrival');
                $longest = max($longest, is_numeric($oldest) ? microtime(true) - (float) $oldest / 1000 : 0.0);
                usleep(50_000);
            } while (microtime(true) < $next);
        }

        return $longest;
    }

    /** @param list<int> $checks */
    private function bring(Database $database, array $checks, int $place, int $atMs): void
    {
        $readings = array_map(
            static fn(CheckReading $one): array => [$one->metric, $one->value, (object) $one->labels, $one->type->value, $one->unit, $one->help],
            CheckReading::common(Verdict::Runs, new Phases(name: 0.001, connect: 0.002, wait: 0.01), false),
        );
        $rows = [];
        foreach ($checks as $number => $check) {
            $written = [
                'number' => $number + 1, 'check' => $check, 'at' => $atMs, 'seconds' => 0.013, 'verdict' => 'runs', 'words' => '', 'readings' => $readings,
                'steps' => [], 'answer' => '',
            ];
            $line = json_encode($written, JSON_THROW_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION);
            Result::read($line) ?? throw new \LogicException('That is no result');
            $rows[] = [PartName::Collector->slotOf($check), $check, $place, $atMs, (string) gzdeflate($line, 1)];
        }
        foreach (array_chunk($rows, self::ROWS_A_STATEMENT) as $chunk) {
            $database->insertNew('arrival', ['slot', 'target_id', 'place', 'at', 'packed'], $chunk);
        }
    }

    private function drained(Database $database): void
    {
        $until = microtime(true) + self::PATIENCE_SECONDS;
        while ($database->connection->fetchOne('SELECT 1 FROM arrival LIMIT 1') !== false) {
            microtime(true) < $until || throw new \RuntimeException('The collector does not take over what stations brought');
            usleep(50_000);
        }
    }
}
