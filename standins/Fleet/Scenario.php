<?php

declare(strict_types=1);

namespace Olivine\Standin\Fleet;

/**
 * Saltmarsh Ferries: web servers, gate containers, brokers, databases, proxies and hosts at three piers, and what
 * went wrong there, week after week:
 *
 *     boarding queue     backs up on Tuesdays 17:10 and Saturdays 09:00, brokers' own week decides how far
 *     /var on manifests  fills over nine days, then is cleaned
 *     gate-s2            leaks and is restarted at its limit, five times in a Wednesday afternoon
 *     web-3              runs hot every Thursday from 05:10 to 21:00
 *     Skarn              network errors on Sunday nights
 *     backup             runs at 02:30 and does not report on Mondays
 */
final readonly class Scenario
{
    private const GIB = 1_073_741_824;
    private const MOST_KEPT = 50_000;
    private const MIB = 1_048_576;
    private const SITES = ['port-ellery', 'greyhaven', 'skarn'];
    private const BOUNDS = ['0.005', '0.01', '0.025', '0.05', '0.1', '0.25', '0.5', '1.0', '2.5', '+Inf'];

    public function __construct(private int $seed)
    {
    }

    /** @return array<string, FleetTarget> by name */
    public function targets(): array
    {
        $targets = [];
        foreach ([1 => 'greyhaven', 2 => 'greyhaven', 3 => 'skarn', 4 => 'port-ellery'] as $n => $site) {
            $targets[] = $this->web("web-{$n}", $site);
        }
        foreach (['port-ellery' => 'e', 'greyhaven' => 'g', 'skarn' => 's'] as $site => $letter) {
            foreach ([1, 2, 3] as $n) {
                $targets[] = $this->gate("gate-{$letter}{$n}", $site);
            }
        }
        $targets[] = $this->broker('broker-north', 'greyhaven');
        $targets[] = $this->broker('broker-south', 'skarn');
        foreach (
            ['tickets' => 'greyhaven', 'manifests' => 'port-ellery', 'tide-tables' => 'skarn', 'crew-rota' => 'greyhaven'] as $service => $site
        ) {
            $targets[] = $this->database("{$service}-db", $service, $site);
        }
        foreach ([1 => 'port-ellery', 2 => 'greyhaven', 3 => 'skarn', 4 => 'greyhaven'] as $n => $site) {
            $targets[] = $this->proxy("edge-{$n}", $site);
        }
        foreach ([1, 2, 3] as $n) {
            $targets[] = $this->service("tide-{$n}", 'tide-tables', self::SITES[$n - 1]);
        }
        foreach ([1, 2, 3, 4] as $n) {
            $targets[] = $this->worker("manifests-{$n}", 'manifests', self::SITES[$n % 3]);
        }
        foreach ([1, 2] as $n) {
            $targets[] = $this->service("crew-{$n}", 'crew-rota', self::SITES[$n]);
        }
        foreach (self::SITES as $site) {
            foreach ([1, 2, 3] as $n) {
                $targets[] = $this->host(str_replace('port-', '', $site) . "-host-{$n}", $site);
            }
        }
        $targets[] = $this->host('backup-host', 'port-ellery');

        return array_combine(array_map(static fn(FleetTarget $target): string => $target->name, $targets), $targets);
    }

    private function web(string $name, string $site): FleetTarget
    {
        return new FleetTarget(
            $name,
            30,
            true,
            ['service' => 'tickets', 'site' => $site, 'host' => $name, 'kind' => 'server'],
            [
                ...$this->machine($name, $site, 8, 32, 0.24),
                ...$this->http($name, ['/sailings', '/book', '/account'], 14.0, 0.09),
                $this->gauge('http_server_active_requests', '', 'Requests in hand', [
                    [],
                    static fn(int $t): float => round(6 * Day::activity($t) + 2 * Noise::at(911 + crc32($name), $t, 60)),
                ]),
            ],
        );
    }

    private function gate(string $name, string $site): FleetTarget
    {
        $s = $this->seedOf($name);
        $limit = 512 * self::MIB;
        $leaks = static function (int $t) use ($name): ?int {
            $into = Day::secondOfDay($t) - 13 * 3600;

            return $name === 'gate-s2' && Day::weekday($t) === 3 && $into >= 0 && $into < 3 * 3600 ? $into % 2160 : null;
        };
        $memory = static function (int $t, Breaks $breaks) use ($s, $name, $limit, $leaks): float {
            $into = $leaks($t);
            $share =
                $into !== null ? 0.35 + (0.63 * $into) / 2160 : 0.38 + 0.05 * Day::activity($t) + 0.015 * Noise::at($s, $t, 600);

            return round($limit * min(0.995, $share + 0.6 * $breaks->share('leak', $name, $t, 1 / 240)));
        };
        $restarts = static function (int $t) use ($name): float {
            if ($name !== 'gate-s2') {
                return 0.0;
            }
            $weeks = intdiv($t - 6 * 86_400, 7 * 86_400);
            $into = (($t - 6 * 86_400) % (7 * 86_400)) - 13 * 3600;

            return $weeks * 5.0 + max(0, min(5, intdiv(max(0, $into), 2160)));
        };

        return new FleetTarget(
            $name,
            60,
            true,
            ['service' => 'boarding-gate', 'site' => $site, 'container' => $name, 'kind' => 'container'],
            [
                $this->counter(
                    'container_cpu_time_seconds',
                    'seconds',
                    'Processor time',
                    [['state' => 'user'], $this->counting($s + 1, 0.18)],
                    [['state' => 'system'], $this->counting($s + 2, 0.05)],
                ),
                $this->gauge('container_memory_usage_bytes', 'bytes', 'Memory in use', [[], $memory]),
                $this->gauge('container_memory_limit_bytes', 'bytes', 'What it may use', [
                    [],
                    static fn(): float => (float) $limit,
                ]),
                $this->counter('container_restarts', '', 'Restarts since it was made', [[], $restarts]),
                $this->counter(
                    'container_network_io_bytes',
                    'bytes',
                    'Bytes on its interface',
                    [['direction' => 'receive'], $this->counting($s + 3, 42_000)],
                    [['direction' => 'transmit'], $this->counting($s + 4, 61_000)],
                ),
                new MetricFamily(
                    'container_state',
                    'stateset',
                    '',
                    'What it is doing',
                    array_map(
                        static fn(string $state): Signal => new Signal('', ['container_state' => $state], static function (
                            int $t,
                        ) use ($state, $leaks): float {
                            $restarting = ($leaks($t) ?? 999) < 30;

                            return ($state === 'restarting') === $restarting && $state !== 'stopped' ? 1.0 : 0.0;
                        }),
                        ['running', 'restarting', 'stopped'],
                    ),
                ),
                $this->counter(
                    'gate_scans',
                    '',
                    'Tickets scanned',
                    [['result' => 'passed'], $this->counting($s + 5, 0.9)],
                    [['result' => 'refused'], $this->counting($s + 6, 0.02)],
                    [['result' => 'unreadable'], $this->counting($s + 7, 0.04)],
                ),
                ...$this->http($name, ['/scan'], 1.1, 0.06),
                $this->gauge('process_open_file_descriptor_count', '', 'Open files', [[], $this->about($s + 8, 60, 0.2, 0)]),
                $this->gauge('gate_barrier_open_ratio', 'ratio', 'Share of the last minute with the barrier open', [
                    [],
                    $this->share($s + 9, 0.25),
                ]),
                $this->gauge('container_cpu_limit_count', '', 'Processors it may use', [[], static fn(): float => 2.0]),
                $this->counter(
                    'gate_barrier_movements',
                    '',
                    'Times the barrier moved',
                    [['direction' => 'up'], $this->counting($s + 10, 0.4)],
                    [['direction' => 'down'], $this->counting($s + 10, 0.4)],
                ),
                $this->info('service_version', ['version' => '4.18.2', 'language' => 'php']),
            ],
        );
    }

    private function broker(string $name, string $site): FleetTarget
    {
        $s = $this->seedOf($name);
        $families = [];
        $queues = [
            'boarding',
            'manifests',
            'tickets-issued',
            'tickets-cancelled',
            'crew-changes',
            'tide-updates',
            'mail-out',
            'prices',
            'audit',
            'dead-letters',
        ];
        $depths = $consumers = $unacknowledged = $published = $consumed = [];
        foreach ($queues as $i => $queue) {
            $q = $s + 100 * $i;
            $base = [118, 60, 34, 12, 6, 8, 25, 9, 40, 3][$i];
            $depth = static function (int $t, Breaks $breaks) use ($q, $base, $queue, $name): float {
                $level =
                    $base *
                    (0.55 + 0.55 * Day::activity($t)) *
                    (1 + 0.14 * Noise::at($q, $t, 120) + 0.08 * Noise::at($q + 7, $t, 15));
                if ($queue === 'boarding') {
                    $level += self::backedUp($t, $name) + $breaks->backlog($name, $t);
                }

                return max(0.0, round($level));
            };
            $depths[] = [['queue' => $queue], $depth];
            $consumers[] = [
                ['queue' => $queue],
                static fn(int $t, Breaks $breaks): float => $queue === 'boarding' && $breaks->isOn('queue', $name)
                    ? 0.0
                    : 3.0 + ($i % 3),
            ];
            $unacknowledged[] = [
                ['queue' => $queue],
                static fn(int $t, Breaks $breaks): float => round(0.1 * $depth($t, $breaks)),
            ];
            $published[] = [['queue' => $queue], $this->counting($q + 3, $base / 12)];
            $consumed[] = [['queue' => $queue], $this->counting($q + 3, $base / 12)];
        }
        $families[] = $this->gauge('messaging_queue_depth', '', 'Messages waiting', ...$depths);
        $families[] = $this->gauge('messaging_queue_consumers', '', 'Consumers attached', ...$consumers);
        $families[] = $this->gauge('messaging_queue_unacknowledged', '', 'Delivered, not yet acknowledged', ...$unacknowledged);
        $families[] = $this->counter('messaging_client_published_messages', '', 'Messages published', ...$published);
        $families[] = $this->counter('messaging_client_consumed_messages', '', 'Messages consumed', ...$consumed);
        $families[] = $this->gauge('messaging_connections', '', 'Open connections', [[], $this->about($s + 1, 48, 0.15, 0)]);

        return new FleetTarget(
            $name,
            15,
            true,
            ['service' => 'brokers', 'site' => $site, 'broker' => $name, 'kind' => 'broker'],
            [
                ...$families,
                $this->gauge('process_memory_usage_bytes', 'bytes', 'Memory of the broker', [
                    [],
                    $this->about($s + 2, 2.1 * self::GIB, 0.08, 0),
                ]),
                $this->gauge('process_open_file_descriptor_count', '', 'Open files', [[], $this->about($s + 5, 310, 0.1, 0)]),
                $this->info('service_version', ['version' => '7.2.0']),
            ],
        );
    }

    private function database(string $name, string $service, string $site): FleetTarget
    {
        $s = $this->seedOf($name);

        return new FleetTarget(
            $name,
            60,
            !in_array($name, ['crew-rota-db', 'tide-tables-db'], true),
            ['service' => $service, 'site' => $site, 'database' => $name, 'kind' => 'database'],
            [
                ...$this->machine($name, $site, 4, 16, 0.16),
                $this->gauge(
                    'db_client_connection_count',
                    '',
                    'Connections',
                    [['state' => 'used'], $this->about($s + 40, 18, 0.6, 0)],
                    [['state' => 'idle'], $this->about($s + 41, 22, 0.2, 0)],
                ),
                $this->counter(
                    'db_transactions',
                    '',
                    'Transactions ended',
                    [['result' => 'committed'], $this->counting($s + 42, 34)],
                    [['result' => 'rolled-back'], $this->counting($s + 43, 0.2)],
                ),
                $this->counter(
                    'db_rows',
                    '',
                    'Rows touched',
                    [['operation' => 'read'], $this->counting($s + 44, 5_200)],
                    [['operation' => 'written'], $this->counting($s + 45, 130)],
                ),
                $this->gauge('db_replication_lag_seconds', 'seconds', 'Behind the primary', [
                    [],
                    static fn(int $t): float => round(
                        max(0.0, 0.08 + 0.06 * Day::activity($t) + 0.05 * Noise::at($s + 46, $t, 120)),
                        3,
                    ),
                ]),
                $this->gauge('db_cache_hit_ratio', 'ratio', 'Reads answered from memory', [
                    [],
                    static fn(int $t): float => round(0.985 + 0.006 * Noise::at($s + 47, $t, 600), 4),
                ]),
                $this->gauge('db_size_bytes', 'bytes', 'Data and indexes', [
                    [],
                    static fn(int $t): float => floor(38.0 * self::GIB + ($t % 5_184_000) * 900),
                ]),
                ...$this->summary('db_query_duration_seconds', $s + 48, 30.0),
            ],
        );
    }

    private function proxy(string $name, string $site): FleetTarget
    {
        $s = $this->seedOf($name);
        $requests = [];
        foreach (['tickets', 'boarding-gate', 'tide-tables', 'crew-rota'] as $u => $upstream) {
            foreach (['200' => 11.0, '304' => 3.0, '404' => 0.2, '500' => 0.02, '502' => 0.01] as $status => $rate) {
                $requests[] = [
                    ['upstream' => $upstream, 'http_response_status_code' => (string) $status],
                    $this->counting($s + 10 * $u + $status, $rate / (1 + $u)),
                ];
            }
        }

        return new FleetTarget(
            $name,
            60,
            true,
            ['service' => 'edge', 'site' => $site, 'proxy' => $name, 'kind' => 'proxy'],
            [
                $this->counter('http_client_requests', '', 'Requests passed on', ...$requests),
                ...$this->http($name, ['tickets', 'boarding-gate', 'tide-tables', 'crew-rota'], 9.0, 0.03),
                $this->gauge('tls_certificate_expiry_seconds', 'seconds', 'Until the certificate ends', [
                    ['server_address' => 'tickets.saltmarsh.example'],
                    static fn(int $t): float => (float) (90 * 86_400 - ($t % (81 * 86_400))),
                ]),
                ...$this->machine($name, $site, 4, 8, 0.12),
            ],
        );
    }

    private function service(string $name, string $service, string $site): FleetTarget
    {
        return new FleetTarget(
            $name,
            60,
            $service !== 'crew-rota',
            ['service' => $service, 'site' => $site, 'host' => $name, 'kind' => 'server'],
            [
                ...$this->machine($name, $site, 2, 8, 0.2),
                ...$this->http($name, $service === 'tide-tables' ? ['/forecast', '/tables'] : ['/shifts'], 3.0, 0.12),
            ],
        );
    }

    private function worker(string $name, string $service, string $site): FleetTarget
    {
        $s = $this->seedOf($name);

        return new FleetTarget(
            $name,
            60,
            true,
            ['service' => $service, 'site' => $site, 'host' => $name, 'kind' => 'server'],
            [
                ...$this->machine($name, $site, 4, 16, 0.22),
                $this->counter(
                    'worker_jobs',
                    '',
                    'Jobs done',
                    [['result' => 'done'], $this->counting($s + 60, 2.4)],
                    [['result' => 'failed'], $this->counting($s + 61, 0.01)],
                ),
                $this->gauge('worker_jobs_waiting', '', 'Jobs waiting', [[], $this->about($s + 62, 14, 0.8, 0)]),
                ...$this->summary('worker_job_duration_seconds', $s + 63, 2.4),
            ],
        );
    }

    private function host(string $name, string $site): FleetTarget
    {
        $families = $this->machine($name, $site, 16, 64, 0.18);
        if ($name === 'backup-host') {
            $families[] = $this->gauge('backup_last_success_timestamp_seconds', 'seconds', 'When the last backup reported', [
                [],
                static function (int $t): float {
                    $day = intdiv($t - 9_000 - 1_500, 86_400);

                    return $day * 86_400.0 + 10_500 - (Day::weekday($day * 86_400) === 1 ? 86_400 : 0);
                },
            ]);
        }

        return new FleetTarget(
            $name,
            60,
            $site !== 'port-ellery',
            ['service' => 'platform', 'site' => $site, 'host' => $name, 'kind' => 'server'],
            $families,
        );
    }

    /** @return list<MetricFamily> what every machine tells of itself */
    private function machine(string $name, string $site, int $cores, int $memoryGib, float $load): array
    {
        $s = $this->seedOf($name);
        $hot = static fn(int $t): float => $name === 'web-3'
        && Day::weekday($t) === 4
        && Day::secondOfDay($t) > 18_600
        && Day::secondOfDay($t) < 75_600
            ? min(1.0, (Day::secondOfDay($t) - 18_600) / 3600, (75_600 - Day::secondOfDay($t)) / 1800)
            : 0.0;
        $busy = static fn(int $t): float => min(
            0.97,
            $load * (0.5 + Day::activity($t)) * (1 + 0.1 * Noise::at($s, $t, 300) + 0.06 * Noise::at($s + 1, $t, 30)) +
                0.34 * $hot($t),
        );
        $memory = $memoryGib * self::GIB;
        $used = static fn(int $t): float => floor(
            $memory * (0.46 + 0.08 * Day::activity($t) + 0.02 * Noise::at($s + 2, $t, 900)),
        );
        $cached = static fn(int $t): float => floor($memory * (0.2 + 0.02 * Noise::at($s + 3, $t, 1800)));
        $disks = ['/' => [80, 0.41, 0.0], '/var' => [200, 0.52, 0.0]];
        $filesystems = [];
        $limits = [];
        foreach ($disks as $mount => [$gib, $share]) {
            $full = static function (int $t, Breaks $breaks) use ($s, $gib, $share, $mount, $name): float {
                $cycle =
                    $name === 'manifests-db' && $mount === '/var'
                        ? (0.34 * (($t + 4 * 86_400) % (9 * 86_400))) / (9 * 86_400) + 0.06
                        : 0.0;
                $backup = Day::secondOfDay($t) > 9_000 && Day::secondOfDay($t) < 12_600 ? 0.03 : 0.0;
                $filled = $mount === '/var' ? 0.45 * $breaks->share('disk', $name, $t, 1 / 300) : 0.0;

                return floor(
                    $gib * self::GIB * min(1.0, $share + $cycle + $backup + $filled + 0.004 * Noise::at($s + 4, $t, 3600)),
                );
            };
            $filesystems[] = [['mountpoint' => $mount, 'state' => 'used'], $full];
            $filesystems[] = [
                ['mountpoint' => $mount, 'state' => 'free'],
                static fn(int $t, Breaks $breaks): float => $gib * self::GIB - $full($t, $breaks),
            ];
            $limits[] = [['mountpoint' => $mount], static fn(): float => (float) ($gib * self::GIB)];
        }
        $flaps = static fn(int $t): float => $site === 'skarn' ? self::flapping($t) : 0.0;
        $errors = $this->counting($s + 9, 0.002);

        return [
            $this->gauge('system_cpu_utilization_ratio', 'ratio', 'Share of processor time in use', [
                [],
                static fn(int $t): float => round($busy($t), 4),
            ]),
            $this->counter(
                'system_cpu_time_seconds',
                'seconds',
                'Processor time by state',
                [['state' => 'user'], $this->counting($s + 5, $load * $cores * 0.7, 2)],
                [['state' => 'system'], $this->counting($s + 6, $load * $cores * 0.25, 2)],
                [['state' => 'iowait'], $this->counting($s + 7, $load * $cores * 0.05, 2)],
            ),
            $this->gauge(
                'system_load_average',
                '',
                'Runnable tasks',
                [
                    ['window' => '1m'],
                    static fn(int $t): float => round($busy($t) * $cores * (1 + 0.15 * Noise::at($s + 8, $t, 60)), 2),
                ],
                [['window' => '5m'], static fn(int $t): float => round($busy($t) * $cores, 2)],
            ),
            $this->gauge(
                'system_memory_usage_bytes',
                'bytes',
                'Memory by use',
                [['state' => 'used'], $used],
                [['state' => 'cached'], $cached],
                [['state' => 'free'], static fn(int $t): float => $memory - $used($t) - $cached($t)],
            ),
            $this->gauge('system_memory_limit_bytes', 'bytes', 'Memory of the machine', [
                [],
                static fn(): float => (float) $memory,
            ]),
            $this->gauge('system_paging_usage_bytes', 'bytes', 'Swap in use', [[], static fn(): float => 0.0]),
            $this->gauge('system_filesystem_usage_bytes', 'bytes', 'Space by use', ...$filesystems),
            $this->gauge('system_filesystem_limit_bytes', 'bytes', 'Size of the file system', ...$limits),
            $this->counter(
                'system_disk_io_bytes',
                'bytes',
                'Bytes moved',
                [['device' => 'nvme0n1', 'direction' => 'read'], $this->counting($s + 10, 410_000)],
                [['device' => 'nvme0n1', 'direction' => 'write'], $this->counting($s + 11, 730_000)],
            ),
            $this->counter(
                'system_network_io_bytes',
                'bytes',
                'Bytes on the interface',
                [['device' => 'eth0', 'direction' => 'receive'], $this->counting($s + 12, 240_000)],
                [['device' => 'eth0', 'direction' => 'transmit'], $this->counting($s + 13, 510_000)],
            ),
            $this->counter(
                'system_network_errors',
                '',
                'Errors on the interface',
                [
                    ['device' => 'eth0', 'direction' => 'receive'],
                    static fn(int $t, Breaks $breaks): float => floor($errors($t, $breaks)) + $flaps($t),
                ],
                [['device' => 'eth0', 'direction' => 'transmit'], $this->counting($s + 16, 0.001)],
            ),
            $this->counter(
                'system_network_packets',
                '',
                'Packets on the interface',
                [['device' => 'eth0', 'direction' => 'receive'], $this->counting($s + 17, 330)],
                [['device' => 'eth0', 'direction' => 'transmit'], $this->counting($s + 18, 420)],
            ),
            $this->counter(
                'system_disk_operations',
                '',
                'Reads and writes',
                [['device' => 'nvme0n1', 'direction' => 'read'], $this->counting($s + 19, 24)],
                [['device' => 'nvme0n1', 'direction' => 'write'], $this->counting($s + 20, 51)],
            ),
            $this->gauge(
                'system_process_count',
                '',
                'Processes',
                [['state' => 'running'], $this->about($s + 14, 3, 0.4, 0)],
                [['state' => 'sleeping'], $this->about($s + 15, 180, 0.05, 0)],
            ),
            $this->gauge('system_uptime_seconds', 'seconds', 'Since the machine started', [
                [],
                static fn(int $t): float => (float) ($t % (41 * 86_400 + ($s % 864_000))),
            ]),
            $this->info('target', ['host_name' => $name, 'os_type' => 'linux', 'os_version' => '6.1']),
        ];
    }

    /**
     * @param list<string> $routes
     *
     * @return list<MetricFamily> a histogram of request times
     */
    private function http(string $name, array $routes, float $rate, float $typical): array
    {
        $signals = [];
        foreach ($routes as $r => $route) {
            $s = $this->seedOf($name) + 1000 * ($r + 1);
            $perSecond = $rate / ($r + 1);
            $count = self::kept($this->counting($s, $perSecond));
            foreach (self::BOUNDS as $bound) {
                // An exponential of the typical time tells which share lies under a bound.
                $under = $bound === '+Inf' ? 1.0 : 1 - exp(-(float) $bound / $typical);
                $signals[] = new Signal(
                    '_bucket',
                    ['http_route' => $route, 'le' => $bound],
                    static fn(int $t, Breaks $breaks): float => floor($count($t, $breaks) * $under),
                );
            }
            $signals[] = new Signal(
                '_sum',
                ['http_route' => $route],
                static fn(int $t, Breaks $breaks): float => round($count($t, $breaks) * $typical, 2),
            );
            $signals[] = new Signal('_count', ['http_route' => $route], $count);
        }

        return [
            new MetricFamily('http_server_request_duration_seconds', 'histogram', 'seconds', 'How long requests took', $signals),
        ];
    }

    /** @return list<MetricFamily> */
    private function summary(string $name, int $seed, float $rate): array
    {
        $count = $this->counting($seed, $rate);

        return [
            new MetricFamily($name, 'summary', 'seconds', 'How long they took', [
                new Signal(
                    '',
                    ['quantile' => '0.5'],
                    static fn(int $t): float => round(
                        0.012 + 0.004 * Day::activity($t) + 0.002 * Noise::at($seed + 1, $t, 120),
                        4,
                    ),
                ),
                new Signal(
                    '',
                    ['quantile' => '0.99'],
                    static fn(int $t): float => round(0.11 + 0.06 * Day::activity($t) + 0.03 * Noise::at($seed + 2, $t, 120), 4),
                ),
                new Signal('_sum', [], static fn(int $t, Breaks $breaks): float => round($count($t, $breaks) * 0.019, 2)),
                new Signal('_count', [], $count),
            ]),
        ];
    }

    /** How many messages the recorded incidents added to the boarding queue. */
    private static function backedUp(int $t, string $broker): float
    {
        $week = intdiv($t, 7 * 86_400);
        $size = 500 + 400 * (1 + Noise::hash($week * 31 + crc32($broker)));
        $at = Day::secondOfDay($t);
        [$from, $to] = match (Day::weekday($t)) {
            2 => [61_800, 65_700],
            6 => [32_400, 37_200],
            default => [0, 0],
        };
        if ($broker === 'broker-south') {
            $size *= Day::weekday($t) === 6 ? 0.9 : 0.2;
            $from += 2_400;
            $to += 1_800;
        }
        if ($at <= $from || $at >= $to) {
            return 0.0;
        }

        return $size * min(1.0, ($at - $from) / 900, ($to - $at) / 500);
    }

    /** Errors that the Sunday nights at Skarn have added in all. */
    private static function flapping(int $t): float
    {
        $since = $t - 3 * 86_400;
        $into = ($since % (7 * 86_400)) - 3_600;

        return intdiv($since, 7 * 86_400) * 4_320.0 + max(0, min(10_800, $into)) * 0.4;
    }

    /**
     * A counter whose rate follows the day; whole things unless digits are given.
     *
     * @return \Closure(int, Breaks=): float
     */
    private function counting(int $seed, float $perSecond, int $digits = 0): \Closure
    {
        $origin = 1_700_000_000;
        $swing = $perSecond * 30;

        return static function (int $t) use ($seed, $perSecond, $origin, $swing, $digits): float {
            $value = $perSecond * (Day::busySeconds($t) - $origin) + $swing * 0.2 * Noise::at($seed, $t, 300);

            return $digits === 0 ? floor($value) : round($value, $digits);
        };
    }

    /**
     * What many signals are made of is worked out once for each second.
     *
     * @param \Closure(int, Breaks=): float $of
     *
     * @return \Closure(int, Breaks=): float
     */
    private static function kept(\Closure $of): \Closure
    {
        /** @var array<int, float> $kept */
        $kept = [];

        return static function (int $t) use ($of, &$kept): float {
            if (!isset($kept[$t])) {
                $kept = count($kept) < self::MOST_KEPT ? $kept : [];
                $kept[$t] = $of($t);
            }

            return $kept[$t];
        };
    }

    private function about(int $seed, float $base, float $swing, int $digits): \Closure
    {
        return static fn(
            int $t,
        ): float => max(0.0, round($base * (1 + $swing * (Day::activity($t) - 1) + 0.08 * Noise::at($seed, $t, 180)), $digits));
    }

    private function share(int $seed, float $base): \Closure
    {
        return static fn(
            int $t,
        ): float => round(max(0.0, min(1.0, $base * Day::activity($t) + 0.05 * Noise::at($seed, $t, 120))), 3);
    }

    /** @param array{array<string, string>, \Closure} ...$series */
    private function gauge(string $name, string $unit, string $help, array ...$series): MetricFamily
    {
        return new MetricFamily(
            $name,
            'gauge',
            $unit,
            $help,
            array_map(static fn(array $one): Signal => new Signal('', $one[0], $one[1]), array_values($series)),
        );
    }

    /** @param array{array<string, string>, \Closure} ...$series */
    private function counter(string $name, string $unit, string $help, array ...$series): MetricFamily
    {
        return new MetricFamily(
            $name,
            'counter',
            $unit,
            $help,
            array_map(static fn(array $one): Signal => new Signal('_total', $one[0], $one[1]), array_values($series)),
        );
    }

    /** @param array<string, string> $labels */
    private function info(string $name, array $labels): MetricFamily
    {
        return new MetricFamily($name, 'info', '', 'What it is', [new Signal('_info', $labels, static fn(): float => 1.0)]);
    }

    private function seedOf(string $name): int
    {
        return ($this->seed * 7919 + crc32($name)) & 0x3fffffff;
    }
}
