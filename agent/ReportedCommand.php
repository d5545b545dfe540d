<?php

declare(strict_types=1);

namespace Olivine\Agent;

/**
 * A command that reports when it begins and how it ends. What it prints passes through as it comes, its exit code is passed on, and
 * nothing that goes wrong with reporting holds it up or changes how it ends.
 */
final class ReportedCommand
{
    private const KEPT_BYTES = 16_384;
    private const READ_BYTES = 65_536;
    private const NOT_STARTED = 127;
    private const LOOK_SECONDS = 1;

    private string $output = '';

    public function __construct(private readonly Reports $reports, private readonly string $address)
    {
    }

    /**
     * @param list<string> $command
     *
     * @return int its exit code; 127 where it could not be started, 128 and the signal where one ended it
     */
    public function run(array $command): int
    {
        $run = bin2hex(random_bytes(8));
        $began = self::now();
        $process = @proc_open($command, [STDIN, ['pipe', 'w'], ['pipe', 'w']], $pipes);
        if (!is_resource($process)) {
            fwrite(STDERR, "olivine run: {$command[0]} cannot be started\n");
            $this->reports->tell($this->address, 'failed', ['run' => $run, 'at' => $began, 'exit' => self::NOT_STARTED], "{$command[0]} cannot be started");

            return self::NOT_STARTED;
        }
        $this->passSignalsTo($process);
        $this->reports->tell($this->address, 'began', ['run' => $run, 'at' => $began], '');
        $this->passThrough([1 => $pipes[1], 2 => $pipes[2]]);
        $code = $this->exitCode($process);
        if ($code === self::NOT_STARTED && $this->output === '') {
            $this->output = "{$command[0]} cannot be started\n";
            fwrite(STDERR, "olivine run: {$this->output}");
        }
        $this->reports->tell($this->address, $code === 0 ? 'ended' : 'failed', ['run' => $run, 'at' => self::now(), 'exit' => $code], $this->output);

        return $code;
    }

    /** @param array<int, resource> $pipes what comes from them → where it goes */
    private function passThrough(array $pipes): void
    {
        $out = [1 => STDOUT, 2 => STDERR];
        while ($pipes !== []) {
            $ready = $pipes;
            $none = null;
            // A signal may wake it early.
            if (@stream_select($ready, $none, $none, self::LOOK_SECONDS) === false) {
                continue;
            }
            foreach ($ready as $from => $pipe) {
                $text = (string) fread($pipe, self::READ_BYTES);
                if ($text === '' && feof($pipe)) {
                    fclose($pipe);
                    unset($pipes[$from]);
                    continue;
                }
                @fwrite($out[$from], $text);
                $this->output = substr($this->output . $text, -self::KEPT_BYTES);
            }
        }
    }

    /** @param resource $process */
    private function exitCode($process): int
    {
        do {
            $status = proc_get_status($process);
            if ($status['running']) {
                usleep(10_000);
            }
        } while ($status['running']);
        proc_close($process);

        return $status['signaled'] ? 128 + $status['termsig'] : $status['exitcode'];
    }

    /** @param resource $process */
    private function passSignalsTo($process): void
    {
        if (!function_exists('pcntl_async_signals')) {
            return;
        }
        pcntl_async_signals(true);
        foreach ([SIGTERM, SIGINT, SIGHUP, SIGQUIT] as $signal) {
            pcntl_signal($signal, static fn(int $number): bool => proc_terminate($process, $number));
        }
    }

    private static function now(): int
    {
        return (int) (microtime(true) * 1000);
    }
}
