<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\ScrapeRefused;
use React\EventLoop\LoopInterface;
use React\Promise\Deferred;
use React\Promise\PromiseInterface;

/** Echoes by the system's own ping: sending them is a right that few programs have, and that one has it. */
final class PingProcess
{
    private const PROGRAM = ['/usr/bin/ping', '/bin/ping'];
    /** @var resource|null */
    private $process = null;

    public function __construct(private readonly LoopInterface $loop)
    {
    }

    /** @return PromiseInterface<list<float|null>> seconds there and back by number; refused where none could be sent */
    public function echoes(string $ip, int $count, float $gapSeconds, float $patienceSeconds): PromiseInterface
    {
        /** @var Deferred<list<float|null>> $result */
        $result = new Deferred();
        $program = array_find(self::PROGRAM, static fn(string $path): bool => is_executable($path));
        $deadline = (string) max(1, (int) ceil($patienceSeconds));
        $options = ['-n', '-c', (string) $count, '-i', (string) $gapSeconds, '-W', $deadline, '-w', $deadline];
        $command = [(string) $program, ...$options, $ip];
        $process = $program === null ? false : @proc_open($command, [1 => ['pipe', 'w'], 2 => ['pipe', 'w']], $pipes, '/', ['LC_ALL' => 'C']);
        if ($process === false) {
            $result->reject(new ScrapeRefused('There is no ping on this machine; whoever keeps it can install iputils-ping'));

            return $result->promise();
        }
        $this->process = $process;
        $said = ['', ''];
        $open = 2;
        foreach ([$pipes[1], $pipes[2]] as $i => $pipe) {
            stream_set_blocking($pipe, false);
            $this->loop->addReadStream($pipe, function () use ($pipe, $i, &$said, &$open, $count, $result): void {
                $said[$i] .= (string) fread($pipe, 65_536);
                if (!feof($pipe)) {
                    return;
                }
                $this->loop->removeReadStream($pipe);
                fclose($pipe);
                if (--$open === 0) {
                    $this->end();
                    self::settle($result, $said[0], $said[1], $count);
                }
            });
        }

        return $result->promise();
    }

    public function end(): void
    {
        if ($this->process !== null) {
            proc_terminate($this->process, SIGKILL);
            proc_close($this->process);
            $this->process = null;
        }
    }

    /** @param Deferred<list<float|null>> $result */
    private static function settle(Deferred $result, string $said, string $complaint, int $count): void
    {
        preg_match_all('~icmp_seq=(\d+) ttl=\d+ time=([\d.]+) ms~', $said, $found, PREG_SET_ORDER);
        $seconds = array_fill(0, $count, null);
        foreach ($found as [, $number, $ms]) {
            if ((int) $number <= $count) {
                $seconds[(int) $number - 1] = (float) $ms / 1000;
            }
        }
        str_contains($said, 'PING') || $complaint === ''
            ? $result->resolve(array_values($seconds))
            : $result->reject(new ScrapeRefused('No ping could be sent: ' . mb_substr(trim((string) preg_replace('~\s+~', ' ', $complaint)), 0, 200)));
    }
}
