<?php

declare(strict_types=1);

namespace Olivine\App\Supervise;

/** One process of a part; started again when it ends, after a pause that grows while it keeps ending. */
final class RunningPart
{
    /** @var array<string, int> name → its bit, as capabilities(7) counts them */
    private const ABILITIES = ['net_raw' => 13];
    private const FIRST_PAUSE = 0.2;
    private const LONGEST_PAUSE = 5.0;
    private const STEADY_SECONDS = 20.0;

    /** @var resource|null */
    private $process = null;
    private float $pause = self::FIRST_PAUSE;
    private float $startAt = 0.0;
    private float $startedAt = 0.0;
    public int $restarts = -1;
    public int $pid = 0;

    /** @param array<string, string> $environment */
    public function __construct(
        public readonly PartSpec $spec,
        private readonly Instance $instance,
        private readonly array $environment,
    ) {
    }

    /** Starts it where it does not run and may. */
    public function keepRunning(): bool
    {
        if ($this->process !== null) {
            $status = proc_get_status($this->process);
            if ($status['running']) {
                return false;
            }
            proc_close($this->process);
            $this->process = null;
            // It led a group of its own: helpers that outlived it would hold its port.
            posix_kill(-$this->pid, SIGKILL);
            $lasted = microtime(true) - $this->startedAt;
            $this->pause = $lasted > self::STEADY_SECONDS ? self::FIRST_PAUSE : min(self::LONGEST_PAUSE, $this->pause * 2);
            $this->startAt = microtime(true) + $this->pause;
            $this->log(
                sprintf(
                    'ended (%s) after %.1f s, starts again in %.1f s',
                    $status['signaled'] ? "signal {$status['termsig']}" : "code {$status['exitcode']}",
                    $lasted,
                    $this->pause,
                ),
            );
        }
        if (microtime(true) < $this->startAt) {
            return false;
        }
        $log = "{$this->instance->dir}/log/{$this->spec->name}.log";
        $process = proc_open(
            ['setsid', ...$this->asItsUser(), ...$this->spec->command],
            [['file', '/dev/null', 'r'], ['file', $log, 'a'], ['file', $log, 'a']],
            $pipes,
            $this->instance->projectDir(),
            $this->environment + ($this->spec->workDir === null ? [] : ['OLIVINE_WORK_DIR' => $this->spec->workDir]),
        );
        if ($process === false) {
            $this->log('could not be started');
            $this->startAt = microtime(true) + self::LONGEST_PAUSE;

            return false;
        }
        $this->process = $process;
        $this->pid = proc_get_status($process)['pid'];
        $this->startedAt = microtime(true);
        ++$this->restarts;

        return true;
    }

    /** @return list<string> */
    private function asItsUser(): array
    {
        if ($this->spec->user === 'root') {
            return [];
        }
        $kept = [];
        foreach (array_filter($this->spec->abilities, self::canGive(...)) as $ability) {
            $kept = [...$kept, "--inh-caps=+{$ability}", "--ambient-caps=+{$ability}"];
        }
        $user = $this->spec->user;

        return ['setpriv', "--reuid={$user}", "--regid={$user}", '--init-groups', ...$kept, '--no-new-privs', '--'];
    }

    /** What we were not given ourselves, as in a container, cannot be handed on; whoever needs it says so where it is missing. */
    private static function canGive(string $ability): bool
    {
        $bit = self::ABILITIES[$ability] ?? throw new \LogicException("Nothing is known of {$ability}");
        $status = (string) @file_get_contents('/proc/self/status');

        return preg_match('~^CapPrm:\s*([0-9a-f]+)$~m', $status, $found) === 1 && (hexdec($found[1]) >> $bit & 1) === 1;
    }

    public function isReady(): bool
    {
        if ($this->process === null || !proc_get_status($this->process)['running']) {
            return false;
        }
        if ($this->spec->readyPort === null) {
            return true;
        }
        $socket = @stream_socket_client("tcp://127.0.0.1:{$this->spec->readyPort}", $code, $message, 0.3);
        if ($socket === false) {
            return false;
        }
        fclose($socket);

        return true;
    }

    public function signal(): void
    {
        if ($this->process !== null) {
            proc_terminate($this->process, $this->spec->stopSignal);
        }
    }

    public function awaitEnd(): void
    {
        if ($this->process === null) {
            return;
        }
        $until = microtime(true) + $this->spec->stopSeconds;
        while (proc_get_status($this->process)['running']) {
            if (microtime(true) > $until) {
                proc_terminate($this->process, SIGKILL);
            }
            usleep(20_000);
        }
        proc_close($this->process);
        $this->process = null;
        // A helper in the middle of something long ends with its part.
        posix_kill(-$this->pid, SIGKILL);
    }

    public function since(): int
    {
        return (int) $this->startedAt;
    }

    private function log(string $words): void
    {
        file_put_contents(
            "{$this->instance->dir}/log/supervisor.log",
            date('Y-m-d H:i:s') . " {$this->spec->name} {$words}\n",
            FILE_APPEND,
        );
    }
}
