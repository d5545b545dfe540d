<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Olivine\App\Supervise\Instance;
use Olivine\Core\Exposition\BadExposition;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\TextReader;
use Symfony\Component\Process\Process;

/** One collector process, 2,000 simulated targets of 200 series every 15 s, over real sockets: how late, what is missed, how much of a core. */
final readonly class CollectMeasure implements Measure
{
    private const TARGETS = 2_000;
    private const SERIES = 200;
    private const SETTLE_SECONDS = 75;
    private const MEASURED_SECONDS = 60;
    private const BASELINE_SCRAPES = 500;

    public function __construct(private BenchDatabase $server, private Instance $instance)
    {
    }

    public function name(): string
    {
        return 'collect';
    }

    public function run(callable $say): void
    {
        $this->server->with(function (Database $database) use ($say): void {
            $fleet = new Process(
                [PHP_BINARY, 'tools/bench-fleet.php', (string) self::SERIES],
                $this->instance->projectDir(),
                null,
                null,
                null,
            );
            $fleet->start();
            $fleet->waitUntil(static fn(string $type, string $text): bool => ctype_digit(trim($text)));
            $port = (int) trim($fleet->getOutput());
            for ($i = 0; $i < self::TARGETS; ++$i) {
                $database->connection->insert('target', [
                    'name' => "sim-{$i}",
                    'url' => "http://127.0.0.1:{$port}/{$i}",
                    'interval_seconds' => 15,
                    'timeout_seconds' => 10,
                    'labels' => '{}',
                    'paused' => 0,
                    'created_at' => 0,
                ]);
            }
            $collector = new Process(
                [PHP_BINARY, '-d', 'memory_limit=2G', '-d', 'opcache.enable_cli=1', 'bin/console', 'olivine:collector'],
                $this->instance->projectDir(),
                null,
                null,
                null,
            );
            $collector->start();
            try {
                sleep(self::SETTLE_SECONDS);
                $before = $this->figures($database) + ['cpu' => self::cpuSeconds((int) $collector->getPid())];
                sleep(self::MEASURED_SECONDS);
                $after = $this->figures($database) + ['cpu' => self::cpuSeconds((int) $collector->getPid())];
                if (!$collector->isRunning()) {
                    throw new \RuntimeException('The collector ended: ' . $collector->getErrorOutput());
                }
                $seconds = ($after['at'] - $before['at']) / 1000;
                $say('collect.late_p99', $after['olivine_scrape_lateness_seconds'] * 1000, 'ms');
                $say(
                    'collect.missed',
                    $after['olivine_scrapes_missed_total'] - $before['olivine_scrapes_missed_total'],
                    'scrapes',
                );
                $say(
                    'collect.failed',
                    $after['olivine_scrapes_failed_total'] - $before['olivine_scrapes_failed_total'],
                    'scrapes',
                );
                $say(
                    'collect.scrapes_per_s',
                    ($after['olivine_scrapes_total'] - $before['olivine_scrapes_total']) / $seconds,
                    'scrapes/s',
                );
                $say(
                    'collect.readings_per_s',
                    ($after['olivine_readings_total'] - $before['olivine_readings_total']) / $seconds,
                    'readings/s',
                );
                $say('collect.core_share', (($after['cpu'] - $before['cpu']) / self::MEASURED_SECONDS) * 100, '% of one core');
                $say('collect.memory', $after['process_memory_usage_bytes'] / 1e6, 'MB');
                $collector->stop(5);
                $say(
                    'collect.baseline_one_by_one_core_share',
                    ((self::oneByOne($port) * self::TARGETS) / 15) * 100,
                    '% of one core',
                );
            } finally {
                $collector->stop(5);
                $fleet->stop(1);
            }
        });
    }

    /** @return array<string, float> what the collector reports of itself, and when it did */
    private function figures(Database $database): array
    {
        $row = $database->connection->fetchAssociative("SELECT at, figures FROM part_status WHERE name = 'collector'");
        /** @var array<string, int|float> $figures */
        $figures = json_decode(Scalar::text($row['figures'] ?? '{}'), true, 4, JSON_THROW_ON_ERROR);

        return ['at' => Scalar::float($row['at'] ?? 0)] + array_map(floatval(...), $figures);
    }

    /**
     * @return float processor seconds a scrape, where each is a request of its own and each label is read anew; nothing is stored
     *
     * @throws BadExposition
     */
    private static function oneByOne(int $port): float
    {
        $from = self::cpuSeconds((int) getmypid());
        for ($i = 0; $i < self::BASELINE_SCRAPES; ++$i) {
            $curl = curl_init("http://127.0.0.1:{$port}/{$i}") ?: throw new \RuntimeException('curl is not there');
            curl_setopt_array($curl, [\CURLOPT_RETURNTRANSFER => true, \CURLOPT_ENCODING => '', \CURLOPT_FORBID_REUSE => true]);
            TextReader::read((string) curl_exec($curl), Form::OpenMetrics);
            curl_close($curl);
        }

        return (self::cpuSeconds((int) getmypid()) - $from) / self::BASELINE_SCRAPES;
    }

    private static function cpuSeconds(int $pid): float
    {
        $fields = explode(' ', (string) preg_replace('~^.*\) ~s', '', (string) file_get_contents("/proc/{$pid}/stat")));

        return ((int) $fields[11] + (int) $fields[12]) / 100;
    }
}
