<?php

declare(strict_types=1);

namespace Olivine\Agent;

use Olivine\Core\Exposition\MetricType;
use Olivine\Core\Exposition\TextWriter;

/** What the kernel says of this machine in /proc and /sys, and of containers in cgroup v2, as OpenMetrics text. */
final readonly class HostMetrics
{
    private const TICKS_A_SECOND = 100;
    private const SECTOR_BYTES = 512;
    private const REAL_FILE_SYSTEMS = [
        'ext2',
        'ext3',
        'ext4',
        'xfs',
        'btrfs',
        'zfs',
        'f2fs',
        'vfat',
        'overlay',
        'tmpfs',
        'nfs',
        'nfs4',
    ];
    private const MOST_CONTAINERS = 200;

    public function __construct(
        private string $proc,
        private string $sys,
        private Certificates $certificates = new Certificates([]),
        private WatchedFiles $files = new WatchedFiles([]),
        private ProcessorShares $shares = new ProcessorShares(),
        private WatchedProcesses $watched = new WatchedProcesses([]),
        private WatchedUnits $units = new WatchedUnits([]),
    ) {
    }

    public function text(): string
    {
        $writer = new TextWriter();
        $writer->family('target', MetricType::Info, '', 'The machine', [
            [
                [
                    'host_name' => (string) gethostname(),
                    'os_type' => 'linux',
                    'os_version' => trim($this->read("{$this->proc}/sys/kernel/osrelease")),
                ],
                1,
            ],
        ]);
        $this->processors($writer);
        $this->memory($writer);
        $this->fileSystems($writer);
        $this->disks($writer);
        $this->network($writer);
        $this->processes($writer);
        $this->containers($writer);
        $this->certificates->write($writer);
        $this->files->write($writer);
        $this->shares->write($writer);
        $this->watched->write($writer);
        $this->units->write($writer);

        return $writer->text();
    }

    private function processors(TextWriter $writer): void
    {
        $times = [];
        $count = 0;
        foreach (explode("\n", $this->read("{$this->proc}/stat")) as $line) {
            if (preg_match('~^cpu(\d+) (.*)$~', $line, $part) === 1) {
                ++$count;
                $ticks = array_map(intval(...), explode(' ', $part[2]));
                foreach (['user', 'nice', 'system', 'idle', 'iowait', 'interrupt', 'softirq', 'steal'] as $i => $state) {
                    $times[] = [['cpu' => $part[1], 'state' => $state], ($ticks[$i] ?? 0) / self::TICKS_A_SECOND];
                }
            }
        }
        $load = array_map(floatval(...), array_slice(explode(' ', $this->read("{$this->proc}/loadavg")), 0, 3));
        $writer
            ->family('system_cpu_time_seconds', MetricType::Counter, 'seconds', 'Time each processor spent in each state', $times)
            ->family('system_cpu_logical_count', MetricType::Gauge, '', 'Processors', [[[], $count]])
            ->family('system_load_average', MetricType::Gauge, '', 'Runnable and waiting tasks, averaged', [
                [['window' => '1m'], $load[0] ?? 0.0],
                [['window' => '5m'], $load[1] ?? 0.0],
                [['window' => '15m'], $load[2] ?? 0.0],
            ])
            ->family('system_uptime_seconds', MetricType::Gauge, 'seconds', 'Since the machine started', [
                [[], (float) $this->read("{$this->proc}/uptime")],
            ]);
    }

    private function memory(TextWriter $writer): void
    {
        preg_match_all('~^(\w+):\s+(\d+) kB~m', $this->read("{$this->proc}/meminfo"), $parts);
        $kib = array_combine($parts[1], array_map(intval(...), $parts[2]));
        $bytes = static fn(string $name): int => ($kib[$name] ?? 0) * 1024;
        $cached = $bytes('Cached') + $bytes('SReclaimable');
        $writer
            ->family('system_memory_usage_bytes', MetricType::Gauge, 'bytes', 'Memory by use', [
                [['state' => 'used'], max(0, $bytes('MemTotal') - $bytes('MemFree') - $bytes('Buffers') - $cached)],
                [['state' => 'free'], $bytes('MemFree')],
                [['state' => 'buffers'], $bytes('Buffers')],
                [['state' => 'cached'], $cached],
            ])
            ->family('system_memory_limit_bytes', MetricType::Gauge, 'bytes', 'Memory of the machine', [[[], $bytes('MemTotal')]])
            ->family('system_memory_available_bytes', MetricType::Gauge, 'bytes', 'What a new program could get', [
                [[], $bytes('MemAvailable')],
            ])
            ->family('system_paging_usage_bytes', MetricType::Gauge, 'bytes', 'Swap by use', [
                [['state' => 'used'], $bytes('SwapTotal') - $bytes('SwapFree')],
                [['state' => 'free'], $bytes('SwapFree')],
            ]);
    }

    private function fileSystems(TextWriter $writer): void
    {
        $usage = [];
        $limit = [];
        $seen = [];
        $spaces = $this->spaces();
        foreach (explode("\n", $this->read("{$this->proc}/mounts")) as $line) {
            [$device, $mount, $type] = explode(' ', $line) + ['', '', ''];
            $mount = stripcslashes($mount);
            if (!in_array($type, self::REAL_FILE_SYSTEMS, true) || isset($seen[$mount])) {
                continue;
            }
            $seen[$mount] = true;
            $space = $spaces[$mount] ?? null;
            if ($space === null || $space['total'] <= 0) {
                continue;
            }
            $labels = ['device' => $device, 'mountpoint' => $mount, 'type' => $type];
            $usage[] = [$labels + ['state' => 'used'], $space['used']];
            $usage[] = [$labels + ['state' => 'free'], $space['free']];
            $usage[] = [$labels + ['state' => 'reserved'], max(0, $space['total'] - $space['used'] - $space['free'])];
            $limit[] = [$labels, $space['total']];
        }
        $writer
            ->family('system_filesystem_usage_bytes', MetricType::Gauge, 'bytes', 'Space of each file system by use', $usage)
            ->family('system_filesystem_limit_bytes', MetricType::Gauge, 'bytes', 'Size of each file system', $limit);
    }

    /**
     * What is used, and what anybody may still write, as the kernel counts blocks: a file system keeps some back for
     * root, so what is not free is more than what is used. PHP tells only the latter two; `df` of coreutils all three.
     *
     * @return array<string, array{total: int, used: int, free: int}> bytes by mount point
     */
    private function spaces(): array
    {
        $spaces = [];
        $lines = explode("\n", (string) shell_exec('LC_ALL=C timeout 5 df -a -B1 --output=size,used,avail,target 2>/dev/null'));
        foreach ($lines as $line) {
            if (preg_match('~^\s*(\d+)\s+(\d+)\s+(\d+)\s+(/.*)$~', $line, $part) === 1) {
                $spaces[$part[4]] = ['total' => (int) $part[1], 'used' => (int) $part[2], 'free' => (int) $part[3]];
            }
        }

        return $spaces;
    }

    private function disks(TextWriter $writer): void
    {
        $bytes = [];
        $operations = [];
        $busy = [];
        foreach (explode("\n", $this->read("{$this->proc}/diskstats")) as $line) {
            $field = preg_split('~\s+~', trim($line)) ?: [];
            $device = $field[2] ?? '';
            if (
                count($field) < 14
                || preg_match('~^(loop|ram|zram)~', $device) === 1
                || !is_dir("{$this->sys}/block/{$device}")
            ) {
                continue;
            }
            foreach (['read' => 3, 'write' => 7] as $direction => $at) {
                $operations[] = [['device' => $device, 'direction' => $direction], (int) $field[$at]];
                $bytes[] = [['device' => $device, 'direction' => $direction], (int) $field[$at + 2] * self::SECTOR_BYTES];
            }
            $busy[] = [['device' => $device], (int) $field[12] / 1000];
        }
        $writer
            ->family('system_disk_io_bytes', MetricType::Counter, 'bytes', 'Bytes moved', $bytes)
            ->family('system_disk_operations', MetricType::Counter, '', 'Reads and writes', $operations)
            ->family('system_disk_io_time_seconds', MetricType::Counter, 'seconds', 'Time with work in hand', $busy);
    }

    private function network(TextWriter $writer): void
    {
        $bytes = [];
        $packets = [];
        $errors = [];
        foreach (explode("\n", $this->read("{$this->proc}/net/dev")) as $line) {
            if (preg_match('~^\s*([^:\s]+):\s*(.*)$~', $line, $part) !== 1) {
                continue;
            }
            $field = array_map(intval(...), preg_split('~\s+~', trim($part[2])) ?: []);
            foreach (['receive' => 0, 'transmit' => 8] as $direction => $at) {
                $labels = ['device' => $part[1], 'direction' => $direction];
                $bytes[] = [$labels, $field[$at] ?? 0];
                $packets[] = [$labels, $field[$at + 1] ?? 0];
                $errors[] = [$labels, ($field[$at + 2] ?? 0) + ($field[$at + 3] ?? 0)];
            }
        }
        $writer
            ->family('system_network_io_bytes', MetricType::Counter, 'bytes', 'Bytes on each interface', $bytes)
            ->family('system_network_packets', MetricType::Counter, '', 'Packets on each interface', $packets)
            ->family('system_network_errors', MetricType::Counter, '', 'Errors and drops on each interface', $errors);
    }

    private function processes(TextWriter $writer): void
    {
        $states = ['running' => 0, 'sleeping' => 0, 'stopped' => 0, 'defunct' => 0];
        foreach ((array) glob("{$this->proc}/[0-9]*/stat", GLOB_NOSORT) as $file) {
            $stat = @file_get_contents((string) $file);
            $letter = $stat === false ? '' : substr($stat, (int) strrpos($stat, ')') + 2, 1);
            if ($letter !== '') {
                ++$states[
                    match ($letter) {
                        'R' => 'running',
                        'T', 't' => 'stopped',
                        'Z', 'X' => 'defunct',
                        default => 'sleeping',
                    }
                ];
            }
        }
        $samples = [];
        foreach ($states as $state => $count) {
            $samples[] = [['state' => $state], $count];
        }
        $writer->family('system_process_count', MetricType::Gauge, '', 'Processes by state', $samples);
        if (preg_match('~^processes (\d+)~m', $this->read("{$this->proc}/stat"), $part) === 1) {
            $writer->family('system_process_created', MetricType::Counter, '', 'Processes started since boot', [
                [[], (int) $part[1]],
            ]);
        }
    }

    private function containers(TextWriter $writer): void
    {
        $root = "{$this->sys}/fs/cgroup";
        if (!is_file("{$root}/cgroup.controllers")) {
            return;
        }
        [$time, $memory, $limit, $reserved, $throttled, $processors, $killed, $tasks] = [[], [], [], [], [], [], [], []];
        foreach (array_slice($this->groups($root), 0, self::MOST_CONTAINERS) as $path) {
            $labels = ['container' => substr($path, strlen($root) + 1)];
            $told = $this->read("{$path}/cpu.stat");
            foreach (['usage_usec' => &$time, 'throttled_usec' => &$throttled] as $name => &$into) {
                if (preg_match("~^{$name} (\d+)~m", $told, $part) === 1) {
                    $into[] = [$labels, (int) $part[1] / 1e6];
                }
            }
            unset($into);
            if (preg_match('~^(\d+) (\d+)~', $this->read("{$path}/cpu.max"), $part) === 1 && (int) $part[2] > 0) {
                $processors[] = [$labels, (int) $part[1] / (int) $part[2]];
            }
            if (preg_match('~^oom_kill (\d+)~m', $this->read("{$path}/memory.events"), $part) === 1) {
                $killed[] = [$labels, (int) $part[1]];
            }
            $least = max((int) $this->read("{$path}/memory.low"), (int) $this->read("{$path}/memory.min"));
            if ($least > 0) {
                $reserved[] = [$labels, $least];
            }
            if (is_readable("{$path}/pids.current")) {
                $tasks[] = [$labels, (int) $this->read("{$path}/pids.current")];
            }
            if (is_readable("{$path}/memory.current")) {
                $memory[] = [$labels, (int) $this->read("{$path}/memory.current")];
                $most = trim($this->read("{$path}/memory.max"));
                if (ctype_digit($most)) {
                    $limit[] = [$labels, (int) $most];
                }
            }
        }
        $writer
            ->family('container_cpu_time_seconds', MetricType::Counter, 'seconds', 'Processor time of each control group', $time)
            ->family('container_memory_usage_bytes', MetricType::Gauge, 'bytes', 'Memory of each control group', $memory)
            ->family('container_memory_limit_bytes', MetricType::Gauge, 'bytes', 'What each control group may use', $limit)
            ->family('container_memory_reserved_bytes', MetricType::Gauge, 'bytes', 'What is kept for it', $reserved)
            ->family('container_cpu_limit_count', MetricType::Gauge, '', 'How many processors it may keep busy', $processors)
            ->family('container_cpu_throttled_seconds', MetricType::Counter, 'seconds', 'For how long it was held back at that limit', $throttled)
            ->family('container_memory_kills', MetricType::Counter, '', 'How often something of it was ended for want of memory', $killed)
            ->family('container_task_count', MetricType::Gauge, '', 'Threads and processes of it', $tasks);
    }

    /** @return list<string> control groups that hold processes, two levels deep */
    private function groups(string $root): array
    {
        $found = [];
        foreach (['/*', '/*/*', '/*/*/*'] as $depth) {
            foreach ((array) glob($root . $depth . '/cgroup.procs') as $file) {
                if (trim($this->read((string) $file)) !== '') {
                    $found[] = dirname((string) $file);
                }
            }
        }

        return $found;
    }

    private function read(string $file): string
    {
        return (string) @file_get_contents($file);
    }
}
