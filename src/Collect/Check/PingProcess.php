<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\ScrapeRefused;
use React\EventLoop\LoopInterface;
use React\Promise\PromiseInterface;

use function React\Promise\reject;

/** Echoes by the system's own ping: sending them is a right that few programs have, and that one has it. */
final class PingProcess
{
    private const PROGRAM = ['/usr/bin/ping', '/bin/ping'];
    private readonly ProgramBeside $ping;

    public function __construct(LoopInterface $loop)
    {
        $this->ping = new ProgramBeside($loop);
    }

    /** @return PromiseInterface<list<float|null>> seconds there and back by number; refused where none could be sent */
    public function echoes(string $ip, int $count, float $gapSeconds, float $patienceSeconds): PromiseInterface
    {
        $program = array_find(self::PROGRAM, static fn(string $path): bool => is_executable($path));
        if ($program === null) {
            return reject(new ScrapeRefused('There is no ping on this machine; whoever keeps it can install iputils-ping'));
        }
        $deadline = (string) max(1, (int) ceil($patienceSeconds));
        $options = ['-n', '-c', (string) $count, '-i', (string) $gapSeconds, '-W', $deadline, '-w', $deadline];

        return $this->ping
            ->says([$program, ...$options, $ip])
            ->then(static fn(array $said): array => self::seconds($said[0], $said[1], $count));
    }

    public function end(): void
    {
        $this->ping->end();
    }

    /**
     * @return list<float|null>
     *
     * @throws ScrapeRefused
     */
    private static function seconds(string $said, string $complaint, int $count): array
    {
        if (!str_contains($said, 'PING') && $complaint !== '') {
            throw new ScrapeRefused('No ping could be sent: ' . mb_substr(trim((string) preg_replace('~\s+~', ' ', $complaint)), 0, 200));
        }
        preg_match_all('~icmp_seq=(\d+) ttl=\d+ time=([\d.]+) ms~', $said, $found, PREG_SET_ORDER);
        $seconds = array_fill(0, $count, null);
        foreach ($found as [, $number, $ms]) {
            if ((int) $number <= $count) {
                $seconds[(int) $number - 1] = (float) $ms / 1000;
            }
        }

        return array_values($seconds);
    }
}
