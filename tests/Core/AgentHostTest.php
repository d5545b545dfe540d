<?php

declare(strict_types=1);

namespace Olivine\Tests\Core;

use Olivine\Agent\HostMetrics;
use Olivine\Agent\ProcessorShares;
use Olivine\Agent\WatchedProcesses;
use Olivine\Agent\WatchedUnits;
use Olivine\Core\Exposition\Form;
use Olivine\Core\Exposition\TextReader;
use Olivine\Core\Exposition\TextWriter;
use PHPUnit\Framework\TestCase;
use Symfony\Component\Process\Process;

/** What the agent tells of processors second by second, named processes, units and containers, out of a kernel's files made up here. */
final class AgentHostTest extends TestCase
{
    private string $folder;

    protected function setUp(): void
    {
        $this->folder = sys_get_temp_dir() . '/agent-host-' . bin2hex(random_bytes(4));
        mkdir($this->folder);
    }

    protected function tearDown(): void
    {
        (new Process(['rm', '-rf', $this->folder]))->run();
    }

    /** Whatever the seconds were, the mean lies between the calmest and the busiest, and is that of all their ticks. */
    public function testProcessorsSecondBySecond(): void
    {
        mt_srand(7);
        for ($round = 0; $round < 50; ++$round) {
            $shares = new ProcessorShares($this->folder);
            [$worked, $idle, $expected] = [mt_rand(0, 1_000_000), mt_rand(0, 1_000_000), []];
            $this->stat($worked, $idle);
            $shares->look();
            self::assertSame([], self::values($shares->write(...)), 'of one look alone nothing is known');
            for ($second = 0, $seconds = mt_rand(1, 60); $second < $seconds; ++$second) {
                $busy = mt_rand(0, 200);
                [$worked, $idle] = [$worked + $busy, $idle + 200 - $busy];
                $expected[] = $busy / 200;
                $this->stat($worked, $idle);
                $shares->look();
            }
            $told = self::values($shares->write(...));
            self::assertEqualsWithDelta(array_sum($expected) / count($expected), $told['system_cpu_utilization_ratio'], 1e-9);
            self::assertEqualsWithDelta(min($expected ?: [-1.0]), $told['system_cpu_utilization_lowest_ratio'], 1e-9);
            self::assertEqualsWithDelta(max($expected ?: [-1.0]), $told['system_cpu_utilization_highest_ratio'], 1e-9);
            $last = array_slice($expected, -15);
            $again = self::values($shares->write(...));
            self::assertEqualsWithDelta(array_sum($last) / count($last), $again['system_cpu_utilization_ratio'], 1e-9, 'who asks right after hears it too');
            self::assertEqualsWithDelta(max($last ?: [-1.0]), $again['system_cpu_utilization_highest_ratio'], 1e-9);
        }
        $shares = new ProcessorShares($this->folder);
        $this->stat(5, 5);
        $shares->look();
        $this->stat(1, 1);
        $shares->look();
        self::assertSame([], self::values($shares->write(...)), 'a clock that went back says nothing');
    }

    public function testNamedProcesses(): void
    {
        file_put_contents("{$this->folder}/uptime", "1000.00 2000.00\n");
        $this->process(11, 'quay-server', 'S', '/usr/sbin/quay-server -d', 150, 50, 40_000, 100, 4);
        $this->process(12, 'quay-server', 'S', 'quay-server: worker', 100, 100, 90_000, 200, 2);
        $this->process(13, 'quay) (odd', 'R', 'php tide.php --all', 10, 10, 95_000, 10, 0);
        $this->process(14, 'quay-server', 'Z', '', 0, 0, 99_000, 0, 0);
        $this->process(15, 'a-very-long-nam', 'S', 'a-very-long-name-indeed', 1, 1, 1_000, 1, 0);
        mkdir("{$this->folder}/16");
        $this->process(17, 'php', 'S', 'php agent.php --processes=tide.php --all', 1, 1, 1_000, 1, 0);
        $watched = new WatchedProcesses(['quay-server', 'quay-server: worker', 'tide.php --all', 'a-very-long-name-indeed', 'gone'], $this->folder);
        $told = self::values($watched->write(...));
        self::assertSame(
            ['quay-server' => 2.0, 'quay-server: worker' => 1.0, 'tide.php --all' => 1.0, 'a-very-long-name-indeed' => 1.0, 'gone' => 0.0],
            self::by($told, 'process_count', 'process'),
        );
        self::assertSame(4.0, $told['process_cpu_time_seconds_total{process="quay-server"}']);
        self::assertSame(300.0 * 4_096, $told['process_memory_usage_bytes{process="quay-server"}']);
        self::assertSame(100.0, $told['process_uptime_seconds{process="quay-server"}'], 'of the youngest');
        self::assertSame(6.0, $told['process_open_file_descriptor_count{process="quay-server"}']);
        self::assertArrayNotHasKey('process_uptime_seconds{process="gone"}', $told);
        self::assertSame('', self::text((new WatchedProcesses([], $this->folder))->write(...)));
    }

    public function testUnits(): void
    {
        file_put_contents("{$this->folder}/uptime", "1000.00 2000.00\n");
        $program = "{$this->folder}/systemctl";
        file_put_contents($program, <<<'SH'
            #!/bin/sh
            [ "$1" = show ] || exit 1
            cat <<'END'
            Id=quay.service
            LoadState=loaded
            ActiveState=active
            SubState=running
            Result=success
            NRestarts=3
            ActiveEnterTimestampMonotonic=400000000
            MemoryCurrent=52428800
            CPUUsageNSec=2500000000
            TasksCurrent=7

            Id=tide.service
            LoadState=loaded
            ActiveState=failed
            SubState=failed
            Result=exit-code
            NRestarts=5
            ActiveEnterTimestampMonotonic=100
            MemoryCurrent=18446744073709551615
            CPUUsageNSec=18446744073709551615
            TasksCurrent=18446744073709551615

            Id=gone.service
            LoadState=not-found
            ActiveState=inactive
            NRestarts=0
            MemoryCurrent=[not set]
            END
            SH);
        chmod($program, 0o755);
        $told = self::values((new WatchedUnits(['quay.service', 'tide.service', 'gone.service'], $program, $this->folder))->write(...));
        self::assertSame(['quay.service' => 1.0, 'tide.service' => 0.0, 'gone.service' => 0.0], self::by($told, 'unit_runs', 'unit'));
        self::assertSame(['quay.service' => 0.0, 'tide.service' => 1.0, 'gone.service' => 0.0], self::by($told, 'unit_failed', 'unit'));
        self::assertSame(['quay.service' => 3.0, 'tide.service' => 5.0], self::by($told, 'unit_restarts_total', 'unit'));
        self::assertSame(['quay.service' => 600.0], self::by($told, 'unit_uptime_seconds', 'unit'));
        self::assertSame(['quay.service' => 52_428_800.0], self::by($told, 'unit_memory_usage_bytes', 'unit'));
        self::assertSame(['quay.service' => 2.5], self::by($told, 'unit_cpu_time_seconds_total', 'unit'));
        self::assertSame([], self::values((new WatchedUnits(['quay.service'], "{$this->folder}/nothing", $this->folder))->write(...)));
    }

    public function testContainersByTheirControlGroups(): void
    {
        $files = [
            'cgroup.controllers' => 'cpu memory', 'quay/cgroup.procs' => "12\n", 'quay/cpu.stat' => "usage_usec 2500000\nthrottled_usec 500000\n",
            'quay/cpu.max' => "150000 100000\n", 'quay/memory.current' => "1000\n", 'quay/memory.max' => "4000\n", 'quay/memory.low' => "2000\n",
            'quay/memory.events' => "low 0\noom 2\noom_kill 1\n", 'quay/pids.current' => "9\n",
            'free/cgroup.procs' => "13\n", 'free/cpu.stat' => "usage_usec 0\n", 'free/cpu.max' => "max 100000\n", 'free/memory.current' => "5\n",
            'free/memory.max' => "max\n", 'empty/cgroup.procs' => '', 'empty/memory.current' => '77',
        ];
        foreach ($files as $name => $text) {
            $path = "{$this->folder}/fs/cgroup/{$name}";
            is_dir(dirname($path)) || mkdir(dirname($path), 0o755, true);
            file_put_contents($path, $text);
        }
        $told = self::values(static fn(TextWriter $writer) => null, (new HostMetrics('/proc', $this->folder))->text());
        self::assertSame(['free' => 5.0, 'quay' => 1_000.0], self::by($told, 'container_memory_usage_bytes', 'container'));
        foreach (
            [
                'container_cpu_time_seconds_total' => 2.5, 'container_cpu_throttled_seconds_total' => 0.5, 'container_cpu_limit_count' => 1.5,
                'container_memory_limit_bytes' => 4_000.0, 'container_memory_reserved_bytes' => 2_000.0, 'container_memory_kills_total' => 1.0,
                'container_task_count' => 9.0,
            ] as $metric => $value
        ) {
            self::assertSame($value, $told["{$metric}{container=\"quay\"}"] ?? null, $metric);
        }
        self::assertArrayNotHasKey('container_memory_limit_bytes{container="free"}', $told, 'without a limit there is none to be near to');
    }

    private function stat(int $worked, int $idle): void
    {
        file_put_contents("{$this->folder}/stat", "cpu  {$worked} 0 0 {$idle} 0 0 0 0 0 0\ncpu0 1 2 3 4\n");
    }

    private function process(int $id, string $name, string $state, string $line, int $user, int $system, int $started, int $pages, int $files): void
    {
        $folder = "{$this->folder}/{$id}";
        mkdir("{$folder}/fd", 0o755, true);
        $field = [$state, ...array_fill(0, 10, '0'), $user, $system, ...array_fill(0, 6, '0'), $started, '0', $pages];
        file_put_contents("{$folder}/stat", "{$id} ({$name}) " . implode(' ', $field) . "\n");
        file_put_contents("{$folder}/cmdline", str_replace(' ', "\0", $line) . "\0");
        for ($i = 0; $i < $files; ++$i) {
            touch("{$folder}/fd/{$i}");
        }
    }

    /**
     * @param array<string, float> $told
     *
     * @return array<string, float>
     */
    private static function by(array $told, string $metric, string $label): array
    {
        $found = [];
        foreach ($told as $key => $value) {
            if (preg_match("~^{$metric}\{{$label}=\"(.*)\"\}$~D", $key, $part) === 1) {
                $found[$part[1]] = $value;
            }
        }

        return $found;
    }

    /** @param callable(TextWriter): mixed $write */
    private static function text(callable $write): string
    {
        $writer = new TextWriter();
        $write($writer);

        return str_replace("# EOF\n", '', $writer->text());
    }

    /**
     * @param callable(TextWriter): mixed $write
     *
     * @return array<string, float> as they are written: name{labels}
     */
    private static function values(callable $write, ?string $text = null): array
    {
        $text ??= self::text($write) . "# EOF\n";
        $values = [];
        foreach (TextReader::read($text, Form::OpenMetrics)->samples as $sample) {
            $labels = [];
            foreach ($sample->labels->labels as $name => $value) {
                $labels[] = "{$name}=\"{$value}\"";
            }
            $values[$sample->name . ($labels === [] ? '' : '{' . implode(',', $labels) . '}')] = $sample->value;
        }

        return $values;
    }
}
