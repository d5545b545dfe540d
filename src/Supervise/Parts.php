<?php

declare(strict_types=1);

namespace Olivine\App\Supervise;

use Olivine\App\Demo\DemoChecks;
use Olivine\App\Demo\DemoStations;

/** Which parts an instance has, in the order in which they start. */
final readonly class Parts
{
    public function __construct(private Instance $instance)
    {
    }

    public function database(): PartSpec
    {
        $ports = $this->instance->ports();
        $dir = $this->instance->dir;

        return new PartSpec(
            'database',
            [
                '/usr/sbin/mariadbd',
                ...$this->databaseFolder()->options(),
                '--bind-address=127.0.0.1',
                "--port={$ports->database()}",
                '--socket=' . $this->socket(),
                "--pid-file={$dir}/database/server.pid",
                '--skip-name-resolve',
                '--character-set-server=utf8mb4',
                '--innodb-buffer-pool-size=512M',
                '--innodb-log-file-size=256M',
                '--innodb-fill-factor=100',
                '--innodb-flush-log-at-trx-commit=1',
                '--max-allowed-packet=64M',
                '--innodb-flush-method=O_DIRECT',
                '--max-connections=120',
                '--transaction-isolation=REPEATABLE-READ',
                '--skip-log-bin',
            ],
            $ports->database(),
            SIGTERM,
            30.0,
        );
    }

    /** Who asks checks, or tries them, sends pings. */
    private const PINGS = ['net_raw'];

    /** What works in the background, and its command. */
    private const WORKERS = [
        'collector' => ['olivine:collector'],
        'evaluator' => ['olivine:evaluator'],
        'dispatcher' => ['olivine:dispatcher'],
        'keeper' => ['olivine:keeper'],
        'mail' => ['olivine:sender', 'mail'],
        'webhooks' => ['olivine:sender', 'webhooks'],
        'chat' => ['olivine:sender', 'chat'],
        'sms' => ['olivine:sender', 'sms'],
        'voice' => ['olivine:sender', 'voice'],
        'tickets' => ['olivine:sender', 'tickets'],
        'push' => ['olivine:sender', 'push'],
    ];

    /** The account that has the compiled application to read, and nothing of the machine to change. */
    public const ACCOUNT = 'olivine';

    /** @return list<PartSpec> */
    public function standins(): array
    {
        $ports = $this->instance->ports();
        $dir = $this->instance->dir;
        $php = [PHP_BINARY, '-d', 'memory_limit=512M'];
        $olivine = "http://127.0.0.1:{$ports->web()}";

        return [
            new PartSpec(
                'fleet',
                [
                    ...$php,
                    'standins/fleet.php',
                    "--port={$ports->fleet()}",
                    "--state={$dir}/fleet",
                    '--ahead=' . ($this->instance->env()['OLIVINE_FLEET_AHEAD'] ?? '0'),
                ],
                $ports->fleet(),
                user: $this->partUser(),
            ),
            new PartSpec('jobs', [...$php, 'standins/jobs.php', "--state={$dir}/jobs"], user: $this->partUser()),
            new PartSpec(
                'mailbox',
                [
                    ...$php,
                    'standins/mailbox.php',
                    "--http={$ports->mailbox()}",
                    "--smtp={$ports->smtp()}",
                    "--round={$ports->round()}",
                    "--box={$ports->pop3()}",
                    '--password=' . DemoChecks::MAILBOX_PASSWORD,
                    "--state={$dir}/mailbox",
                ],
                $ports->smtp(),
                user: $this->partUser(),
            ),
            new PartSpec(
                'sink',
                [...$php, 'standins/sink.php', "--port={$ports->sink()}", "--state={$dir}/sink"],
                $ports->sink(),
                user: $this->partUser(),
            ),
            new PartSpec(
                'phones',
                [...$php, 'standins/phone.php', "--port={$ports->phone()}", "--state={$dir}/phone", "--olivine={$olivine}"],
                $ports->phone(),
                user: $this->partUser(),
            ),
            new PartSpec(
                'rooms',
                [...$php, 'standins/chat.php', "--port={$ports->chat()}", "--state={$dir}/chat", "--olivine={$olivine}"],
                $ports->chat(),
                user: $this->partUser(),
            ),
            new PartSpec(
                'desk',
                [...$php, 'standins/desk.php', "--port={$ports->desk()}", "--state={$dir}/desk"],
                $ports->desk(),
                user: $this->partUser(),
            ),
            new PartSpec(
                'notices',
                [...$php, 'standins/browser.php', "--port={$ports->browser()}", "--state={$dir}/browser"],
                $ports->browser(),
                user: $this->partUser(),
            ),
        ];
    }

    /** @return list<PartSpec> the simulated stations, which ask checks from elsewhere */
    public function stations(): array
    {
        $to = "http://127.0.0.1:{$this->instance->ports()->web()}";
        $folder = "{$this->instance->dir}/stations";
        $specs = [];
        foreach (DemoStations::PLACES as $name => $place) {
            $specs[] = new PartSpec(
                "station-{$name}",
                [
                    PHP_BINARY, '-d', 'memory_limit=512M', '-d', 'opcache.enable_cli=1', 'bin/console', 'olivine:station',
                    "--to={$to}", "--token=@{$folder}/token", "--place={$place}", "--state={$folder}/{$name}",
                ],
                user: $this->partUser(),
                workDir: "{$this->instance->dir}/work/parts",
                abilities: self::PINGS,
            );
        }

        return $specs;
    }

    public function agent(): PartSpec
    {
        $ports = $this->instance->ports();

        return new PartSpec(
            'agent',
            [PHP_BINARY, 'agent/agent.php', "--port={$ports->agent()}", "--certificates={$this->instance->dir}/certificates"],
            $ports->agent(),
            user: $this->partUser(),
        );
    }

    /** @return list<PartSpec> */
    public function workers(): array
    {
        return array_map(
            fn(string $name, array $command): PartSpec => new PartSpec(
                $name,
                [PHP_BINARY, '-d', 'memory_limit=1G', '-d', 'opcache.enable_cli=1', 'bin/console', ...$command],
                user: $this->partUser(),
                workDir: "{$this->instance->dir}/work/parts",
                abilities: $name === 'collector' ? self::PINGS : [],
            ),
            array_keys(self::WORKERS),
            self::WORKERS,
        );
    }

    /** @return list<PartSpec> */
    public function web(): array
    {
        $ports = $this->instance->ports();
        $dir = $this->instance->dir;

        return [
            new PartSpec(
                'web',
                [
                    PHP_BINARY,
                    '-d',
                    'memory_limit=512M',
                    '-d',
                    'display_errors=stderr',
                    '-d',
                    'opcache.enable_cli=1',
                    '-d',
                    'opcache.validate_timestamps=0',
                    '-d',
                    'opcache.max_accelerated_files=20000',
                    '-d',
                    'opcache.jit=disable',
                    'bin/console',
                    'olivine:web',
                    "--port={$ports->pages()}",
                ],
                $ports->pages(),
                SIGTERM,
                5.0,
                user: $this->webUser(),
                workDir: "{$dir}/work/web",
                abilities: self::PINGS,
            ),
            new PartSpec(
                'nginx',
                ['/usr/sbin/nginx', '-e', "{$dir}/log/nginx.log", '-c', "{$dir}/nginx/nginx.conf"],
                $ports->web(),
                SIGQUIT,
                5.0,
            ),
        ];
    }

    /** A socket path has at most 107 bytes, so it does not stand in the instance's folder. */
    public function socket(): string
    {
        return '/tmp/olivine-' . substr(sha1($this->instance->dir), 0, 10) . '.sock';
    }

    public function databaseFolder(): DatabaseFolder
    {
        return new DatabaseFolder($this->instance->dir, $this->databaseUser());
    }

    private function databaseUser(): string
    {
        return $this->canReach('mysql') ? 'mysql' : 'root';
    }

    /** Whom those that work in the background work as. */
    public function partUser(): string
    {
        return $this->canReach(self::ACCOUNT) ? self::ACCOUNT : 'root';
    }

    public function webUser(): string
    {
        return $this->canReach('www-data') ? 'www-data' : 'root';
    }

    /** An account of its own where it may enter the folder we were put in; below /root it may not. */
    private function canReach(string $user): bool
    {
        if (posix_getpwnam($user) === false) {
            return false;
        }
        for ($path = $this->instance->dir; $path !== '/'; $path = dirname($path)) {
            if ((fileperms($path) & 0o001) === 0) {
                return false;
            }
        }

        return true;
    }
}
