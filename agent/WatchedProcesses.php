<?php

declare(strict_types=1);

namespace Olivine\Agent;

use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\TextWriter;

/**
 * Named processes of this machine: how many there are, since when the youngest, and what they take together. A name is that of a program
 * (`nginx`), or words within its command line where it holds a blank or a slash (`php-fpm: pool www`).
 */
final readonly class WatchedProcesses
{
    private const TICKS_A_SECOND = 100;
    private const PAGE_BYTES = 4_096;
    /** Whoever is told to look for words has them in its own command line. */
    private const OWN = '--processes=';

    /** @param list<string> $names */
    public function __construct(private array $names, private string $proc = '/proc')
    {
    }

    public function write(TextWriter $writer): void
    {
        if ($this->names === []) {
            return;
        }
        [$counts, $time, $memory, $files, $uptime] = [[], [], [], [], []];
        $up = (float) $this->read('uptime');
        foreach ($this->found() as $name => $all) {
            $labels = ['process' => $name];
            $counts[] = [$labels, count($all)];
            if ($all === []) {
                continue;
            }
            $time[] = [$labels, array_sum(array_column($all, 'ticks')) / self::TICKS_A_SECOND];
            $memory[] = [$labels, self::PAGE_BYTES * array_sum(array_column($all, 'pages'))];
            $uptime[] = [$labels, max(0.0, $up - max(array_column($all, 'started')) / self::TICKS_A_SECOND)];
            $known = array_filter(array_column($all, 'files'), is_int(...));
            if ($known !== []) {
                $files[] = [$labels, array_sum($known)];
            }
        }
        $writer
            ->family('process_count', MetricType::Gauge, '', 'How many processes of this name run', $counts)
            ->family('process_cpu_time_seconds', MetricType::Counter, 'seconds', 'Processor time of those that run', $time)
            ->family('process_memory_usage_bytes', MetricType::Gauge, 'bytes', 'Memory that they hold', $memory)
            ->family('process_uptime_seconds', MetricType::Gauge, 'seconds', 'Since the youngest of them began', $uptime)
            ->family('process_open_file_descriptor_count', MetricType::Gauge, '', 'Files that they hold open', $files);
    }

    /** @return array<string, list<array{ticks: int, pages: int, started: int, files: int|null}>> */
    private function found(): array
    {
        $found = array_fill_keys($this->names, []);
        foreach (glob("{$this->proc}/[0-9]*", GLOB_NOSORT | GLOB_ONLYDIR) ?: [] as $folder) {
            $stat = (string) @file_get_contents("{$folder}/stat");
            // The name may hold blanks and brackets; what follows stands behind the last one.
            $end = strrpos($stat, ')');
            if ($end === false) {
                continue;
            }
            $program = substr($stat, (int) strpos($stat, '(') + 1, $end - (int) strpos($stat, '(') - 1);
            $field = explode(' ', substr($stat, $end + 2));
            $line = null;
            foreach ($this->names as $name) {
                $isWords = preg_match('~[\s/]~', $name) === 1;
                $line ??= $isWords ? str_replace("\0", ' ', (string) @file_get_contents("{$folder}/cmdline")) : null;
                // The kernel keeps fifteen letters of a name.
                $isIt = $isWords ? str_contains((string) $line, $name) && !str_contains((string) $line, self::OWN) : $program === substr($name, 0, 15);
                if ($isIt && ($field[0] ?? 'Z') !== 'Z') {
                    $open = @scandir("{$folder}/fd");
                    $found[$name][] = [
                        'ticks' => (int) ($field[11] ?? 0) + (int) ($field[12] ?? 0),
                        'pages' => (int) ($field[21] ?? 0),
                        'started' => (int) ($field[19] ?? 0),
                        'files' => $open === false ? null : max(0, count($open) - 2),
                    ];
                }
            }
        }

        return $found;
    }

    private function read(string $file): string
    {
        return (string) @file_get_contents("{$this->proc}/{$file}");
    }
}
