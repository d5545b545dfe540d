<?php

declare(strict_types=1);

namespace Olivine\App\Bench;

use Olivine\App\Platform\Database;
use Olivine\App\Platform\Scalar;
use Symfony\Component\Process\Process;

/** One collector process over a while: what it reports of itself, and how much of a core it took. */
final class MeasuredCollector
{
    private readonly Process $collector;

    public function __construct(private readonly Database $database, string $projectDir)
    {
        $command = [PHP_BINARY, '-d', 'memory_limit=2G', '-d', 'opcache.enable_cli=1', 'bin/console', 'olivine:collector'];
        $this->collector = new Process($command, $projectDir, null, null, null);
        $this->collector->start();
    }

    /**
     * @param string                                 $what the first word of each figure
     * @param string                                 $one  what one asking is called
     * @param callable(string, float, string): mixed $say
     */
    public function measure(string $what, string $one, int $settleSeconds, int $seconds, callable $say): void
    {
        sleep($settleSeconds);
        $before = $this->figures();
        sleep($seconds);
        $after = $this->figures();
        if (!$this->collector->isRunning()) {
            throw new \RuntimeException('The collector ended: ' . $this->collector->getErrorOutput());
        }
        $gain = static fn(string $figure): float => $after[$figure] - $before[$figure];
        $measured = $gain('at') / 1000;
        $say("{$what}.late_p99", $after['olivine_scrape_lateness_seconds'] * 1000, 'ms');
        $say("{$what}.missed", $gain('olivine_scrapes_missed_total'), $one);
        $say("{$what}.failed", $gain('olivine_scrapes_failed_total'), $one);
        $say("{$what}.{$one}_per_s", $gain('olivine_scrapes_total') / $measured, "{$one}/s");
        $say("{$what}.readings_per_s", $gain('olivine_readings_total') / $measured, 'readings/s');
        $say("{$what}.core_share", ($gain('cpu') / $seconds) * 100, '% of one core');
        $say("{$what}.memory", $after['process_memory_usage_bytes'] / 1e6, 'MB');
    }

    /** @return float seconds of a processor that it took since it began */
    public function cpu(): float
    {
        return ProcessorTime::of((int) $this->collector->getPid());
    }

    public function stop(): void
    {
        $this->collector->stop(5);
    }

    /** @return array<string, float> */
    private function figures(): array
    {
        $row = $this->database->connection->fetchAssociative("SELECT at, figures FROM part_status WHERE name = 'collector'");
        /** @var array<string, int|float> $figures */
        $figures = json_decode(Scalar::text($row['figures'] ?? '{}'), true, 4, JSON_THROW_ON_ERROR);
        $own = ['at' => Scalar::float($row['at'] ?? 0), 'cpu' => ProcessorTime::of((int) $this->collector->getPid())];

        return $own + array_map(floatval(...), $figures);
    }
}
