<?php

declare(strict_types=1);

namespace Olivine\Agent;

use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\TextWriter;

/** Units of systemd: whether each runs, since when, how often it was started again by itself, and what it takes. */
final readonly class WatchedUnits
{
    private const PROPERTIES = 'Id,LoadState,ActiveState,SubState,Result,NRestarts,ActiveEnterTimestampMonotonic,MemoryCurrent,CPUUsageNSec,TasksCurrent';
    /** What systemd says where it does not know. */
    private const UNKNOWN = '18446744073709551615';

    /**
     * @param list<string> $units   such as `nginx.service`
     * @param string       $program that tells of them
     */
    public function __construct(private array $units, private string $program = 'systemctl', private string $proc = '/proc')
    {
    }

    public function write(TextWriter $writer): void
    {
        if ($this->units === []) {
            return;
        }
        [$runs, $failed, $restarts, $since, $memory, $time, $tasks] = [[], [], [], [], [], [], []];
        $up = (float) @file_get_contents("{$this->proc}/uptime");
        foreach ($this->shown() as $unit) {
            $labels = ['unit' => $unit['Id'] ?? ''];
            $isThere = ($unit['LoadState'] ?? '') === 'loaded';
            $isRunning = $isThere && in_array($unit['ActiveState'] ?? '', ['active', 'reloading'], true);
            $runs[] = [$labels, $isRunning ? 1 : 0];
            $failed[] = [$labels, ($unit['ActiveState'] ?? '') === 'failed' ? 1 : 0];
            $number = static fn(string $name): ?float => ctype_digit($unit[$name] ?? '') && $unit[$name] !== self::UNKNOWN ? (float) $unit[$name] : null;
            $restarts = self::with($restarts, $labels, $isThere ? $number('NRestarts') : null);
            $entered = $isRunning ? $number('ActiveEnterTimestampMonotonic') : null;
            $since = self::with($since, $labels, $entered === null ? null : max(0.0, $up - $entered / 1e6));
            $memory = self::with($memory, $labels, $isRunning ? $number('MemoryCurrent') : null);
            $nanoseconds = $isRunning ? $number('CPUUsageNSec') : null;
            $time = self::with($time, $labels, $nanoseconds === null ? null : $nanoseconds / 1e9);
            $tasks = self::with($tasks, $labels, $isRunning ? $number('TasksCurrent') : null);
        }
        $writer
            ->family('unit_runs', MetricType::Gauge, '', '1 where the unit runs, 0 where it does not or there is none', $runs)
            ->family('unit_failed', MetricType::Gauge, '', '1 where it ended in a failure', $failed)
            ->family('unit_restarts', MetricType::Counter, '', 'How often it was started again by itself', $restarts)
            ->family('unit_uptime_seconds', MetricType::Gauge, 'seconds', 'Since it runs', $since)
            ->family('unit_memory_usage_bytes', MetricType::Gauge, 'bytes', 'Memory that it holds', $memory)
            ->family('unit_cpu_time_seconds', MetricType::Counter, 'seconds', 'Processor time that it took', $time)
            ->family('unit_task_count', MetricType::Gauge, '', 'Threads and processes of it', $tasks);
    }

    /** @return list<array<string, string>> property → value, a unit each */
    private function shown(): array
    {
        $units = implode(' ', array_map(escapeshellarg(...), $this->units));
        $show = escapeshellarg($this->program) . ' show --property=' . self::PROPERTIES;
        $said = (string) shell_exec("LC_ALL=C timeout 5 {$show} -- {$units} 2>/dev/null");
        $shown = [];
        foreach (preg_split('~\n\s*\n~', trim($said)) ?: [] as $block) {
            preg_match_all('~^(\w+)=(.*)$~m', $block, $parts);
            if ($parts[1] !== []) {
                $shown[] = array_combine($parts[1], array_map(trim(...), $parts[2]));
            }
        }

        return $shown;
    }

    /**
     * @param list<array{array<string, string>, float}> $samples
     * @param array<string, string>                     $labels
     *
     * @return list<array{array<string, string>, float}>
     */
    private static function with(array $samples, array $labels, ?float $value): array
    {
        return $value === null ? $samples : [...$samples, [$labels, $value]];
    }
}
