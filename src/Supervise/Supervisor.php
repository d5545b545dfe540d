<?php

declare(strict_types=1);

namespace Olivine\App\Supervise;

use Olivine\App\Kernel;
use Olivine\App\Platform\OneLine;
use Symfony\Component\Process\Process;

/**
 * Starts the parts of an instance in order, keeps them running, and stops them in the opposite order, the database
 * last. It does nothing else, so that there is little in it that could fail.
 */
final class Supervisor
{
    /** @var list<RunningPart> */
    private array $running = [];
    private const LOOK_AT_SOURCES_SECONDS = 2.0;
    private bool $stopping = false;
    private bool $isUp = false;
    private float $lookAtSourcesAt = 0.0;

    public function __construct(
        private readonly Instance $instance,
        private readonly Parts $parts,
        private readonly ConfigFiles $configFiles,
    ) {
    }

    public function run(): int
    {
        pcntl_async_signals(true);
        foreach ([SIGTERM, SIGINT, SIGHUP] as $signal) {
            pcntl_signal($signal, function (): void {
                $this->stopping = true;
            });
        }
        file_put_contents("{$this->instance->dir}/run/supervisor.pid", (string) getmypid());
        try {
            $this->start();
            while (!$this->stopping) {
                $this->keep();
                usleep(100_000);
            }
        } catch (StartFailed $failure) {
            if (!$this->stopping) {
                $this->instance->progress("failed: {$failure->getMessage()}");
            }
        }
        $this->stop();
        @unlink("{$this->instance->dir}/run/supervisor.pid");

        return 0;
    }

    /** @throws StartFailed */
    private function start(): void
    {
        umask(0o077);
        $standins = $this->instance->env()['OLIVINE_STANDINS'] === '1';
        $this->makeAccount();
        $this->instance->makeFolders($this->parts);
        $this->instance->progress('starting the database');
        $this->makeDatabase();
        $this->startPart($this->parts->database(), 60.0);
        $this->makeSchema();
        $this->console(['olivine:migrate-schema'], 'bringing the tables up to date');
        if ($standins) {
            foreach ($this->parts->standins() as $part) {
                $this->instance->progress("starting the {$part->name}");
                $this->startPart($part, 20.0);
            }
        }
        $this->showCompiled();
        $this->startPart($this->parts->agent(), 20.0);
        if ($standins) {
            $this->console(['olivine:demo:fill'], 'looking at the demo data');
        }
        $this->instance->progress('starting collector, evaluator, dispatcher, keeper, senders and web');
        foreach ($this->parts->workers() as $part) {
            $this->startPart($part, 20.0);
        }
        $this->configFiles->write();
        foreach ($this->parts->web() as $part) {
            $this->startPart($part, 20.0);
        }
        foreach ($standins ? $this->parts->stations() : [] as $part) {
            $this->startPart($part, 20.0);
        }
        $this->isUp = true;
        $this->instance->progress('ready');
    }

    /** @throws StartFailed */
    private function startPart(PartSpec $spec, float $patience): void
    {
        $part = new RunningPart($spec, $this->instance, $this->environment());
        $this->running[] = $part;
        $until = microtime(true) + $patience;
        do {
            if ($this->stopping) {
                throw new StartFailed('stopped before it was up');
            }
            $this->keep();
            if ($part->isReady()) {
                return;
            }
            usleep(30_000);
        } while (microtime(true) < $until);

        throw new StartFailed(
            "{$spec->name} did not come up within {$patience} s; {$this->instance->dir}/log/{$spec->name}.log says why",
        );
    }

    /** @throws StartFailed */
    private function keep(): void
    {
        $changed = false;
        $this->compileAgain();
        foreach ($this->running as $part) {
            $changed = $part->keepRunning() || $changed;
        }
        if ($changed) {
            $parts = [];
            foreach ($this->running as $part) {
                $parts[$part->spec->name] = ['pid' => $part->pid, 'since' => $part->since(), 'restarts' => $part->restarts];
            }
            $file = "{$this->instance->dir}/run/parts.json";
            file_put_contents("{$file}.new", json_encode($parts, JSON_THROW_ON_ERROR));
            rename("{$file}.new", $file);
        }
    }

    /**
     * Where the sources were changed while all runs: a part that is started again could not compile them itself.
     *
     * @throws StartFailed
     */
    private function compileAgain(): void
    {
        $isDue = microtime(true) >= $this->lookAtSourcesAt && $this->isUp;
        if (!$isDue) {
            return;
        }
        $this->lookAtSourcesAt = microtime(true) + self::LOOK_AT_SOURCES_SECONDS;
        if (!is_file(Kernel::compiledAt($this->instance->projectDir(), $this->instance->dir) . '/url_matching_routes.php')) {
            $this->isUp = false;
            $this->console(['list', '--raw', '--quiet'], 'compiling what was changed');
            $this->showCompiled();
            $this->isUp = true;
        }
    }

    private function stop(): void
    {
        $database = array_shift($this->running);
        foreach ($this->running as $part) {
            $part->signal();
        }
        foreach (array_reverse($this->running) as $part) {
            $part->awaitEnd();
        }
        $database?->signal();
        $database?->awaitEnd();
        @unlink("{$this->instance->dir}/run/parts.json");
    }

    /** Parts work under an account that may change nothing of this machine; root only looks after them. */
    private function makeAccount(): void
    {
        if (posix_geteuid() !== 0 || posix_getpwnam(Parts::ACCOUNT) !== false) {
            return;
        }
        $process = new Process([
            'useradd',
            '--system',
            '--no-create-home',
            '--home-dir',
            '/nonexistent',
            '--shell',
            '/usr/sbin/nologin',
            '--user-group',
            Parts::ACCOUNT,
        ]);
        $process->run();
        if (!$process->isSuccessful()) {
            $this->instance->progress(
                'no account of its own could be made, so the parts work as root: ' . OneLine::of($process->getErrorOutput()),
            );
        }
    }

    /**
     * What is compiled is for all parts to read and for none to write.
     *
     * @throws StartFailed
     */
    private function showCompiled(): void
    {
        $this->command(['chmod', '-R', 'u=rwX,go=rX', "{$this->instance->dir}/cache"], 30.0);
    }

    /** @throws StartFailed */
    private function makeDatabase(): void
    {
        $folder = $this->parts->databaseFolder();
        $folder->prepare();
        if ($folder->isEmpty()) {
            $this->command($folder->fill(), 120.0);
        }
    }

    /** @throws StartFailed */
    private function makeSchema(): void
    {
        $password = $this->instance->env()['OLIVINE_DB_PASSWORD'];
        $sql = "CREATE DATABASE IF NOT EXISTS olivine CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;
            CREATE USER IF NOT EXISTS 'olivine'@'127.0.0.1' IDENTIFIED BY '{$password}';
            GRANT ALL ON olivine.* TO 'olivine'@'127.0.0.1'; GRANT ALL ON `olivine\\_%`.* TO 'olivine'@'127.0.0.1';";
        // Not as an argument: those of every process can be read by all.
        $this->command(
            [
                'mariadb',
                '--no-defaults',
                '--user=' . (posix_getpwuid(posix_geteuid())['name'] ?? 'root'),
                '--socket=' . $this->parts->socket(),
            ],
            30.0,
            $sql,
        );
    }

    /**
     * @param non-empty-list<string> $command
     *
     * @throws StartFailed
     */
    private function console(array $command, string $words): void
    {
        $this->instance->progress($words);
        $this->command([PHP_BINARY, '-d', 'memory_limit=2G', 'bin/console', ...$command], 900.0);
    }

    /**
     * @param non-empty-list<string> $command
     *
     * @throws StartFailed
     */
    private function command(array $command, float $patience, ?string $input = null): void
    {
        $process = new Process($command, $this->instance->projectDir(), $this->environment(), $input, $patience);
        $process->start(function (string $type, string $text): void {
            file_put_contents("{$this->instance->dir}/log/start.log", $text, FILE_APPEND);
        });
        while ($process->isRunning()) {
            $this->keep();
            if ($this->stopping) {
                $process->stop(3.0);
                throw new StartFailed('stopped before it was up');
            }
            $process->checkTimeout();
            usleep(20_000);
        }
        if (!$process->isSuccessful()) {
            throw new StartFailed(
                sprintf(
                    '%s: %s',
                    $command[0] === PHP_BINARY ? $command[count($command) - 1] : $command[0],
                    mb_substr((string) preg_replace('~\s+~', ' ', $process->getErrorOutput() . $process->getOutput()), -900),
                ),
            );
        }
    }

    /** @return array<string, string> */
    private function environment(): array
    {
        return [
            'PATH' => '/usr/local/sbin:/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin',
            'HOME' => (string) (getenv('HOME') ?: '/root'),
            'LANG' => 'C.UTF-8',
            'OLIVINE_INSTANCE' => basename($this->instance->dir),
            'OLIVINE_STATE_DIR' => $this->instance->dir,
            'OLIVINE_SUPERVISED' => $this->instance->dir,
        ] + $this->instance->env();
    }
}
