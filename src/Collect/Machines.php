<?php

declare(strict_types=1);

namespace Olivine\App\Collect;

use Olivine\App\Collect\Check\PingProcess;
use React\EventLoop\StreamSelectLoop;

/**
 * Whether the machine of a target that does not answer is there all the same: a program that hangs on a sound machine is mended otherwise
 * than a machine that is gone. It is looked for beside the asking, so the next fault says it; of each machine at most once a minute.
 */
final class Machines
{
    private const ECHOES = 2;
    private const PATIENCE_SECONDS = 2.0;
    private const AGAIN_SECONDS = 60.0;
    /** What was seen so long ago is not told any more. */
    private const FRESH_SECONDS = 150.0;
    private const MOST_AT_ONCE = 10;

    private readonly StreamSelectLoop $loop;
    /** @var array<string, array{PingProcess, float}> address → who looks, and since when */
    private array $looking = [];
    /** @var array<string, array{bool, float}> address → whether it answers echoes, and when that was seen */
    private array $seen = [];

    public function __construct()
    {
        $this->loop = new StreamSelectLoop();
    }

    public function follow(Scrape $scrape): void
    {
        if ($scrape->fault === null || $scrape->wasHeard || $scrape->ip === '') {
            return;
        }
        [$answers, $at] = $this->seen[$scrape->ip] ?? [false, 0.0];
        $age = microtime(true) - $at;
        if ($age < self::FRESH_SECONDS) {
            $scrape->machineAnswers = $answers;
            $scrape->fault .= $answers
                ? '; the machine itself answers echoes, so what is missing is the program'
                : '; the machine does not answer echoes either';
        }
        if ($age > self::AGAIN_SECONDS && !isset($this->looking[$scrape->ip]) && count($this->looking) < self::MOST_AT_ONCE) {
            $this->look($scrape->ip);
        }
    }

    /** Moves on whatever is looked for, without waiting. */
    public function advance(): void
    {
        if ($this->looking === []) {
            return;
        }
        $this->loop->futureTick($this->loop->stop(...));
        $this->loop->run();
        foreach ($this->looking as $ip => [$ping, $since]) {
            if (microtime(true) - $since > 5 * self::PATIENCE_SECONDS) {
                $ping->end();
                unset($this->looking[$ip]);
            }
        }
    }

    public function abandon(): void
    {
        array_map(static fn(array $one) => $one[0]->end(), $this->looking);
        $this->looking = [];
    }

    private function look(string $ip): void
    {
        $this->seen = array_filter($this->seen, static fn(array $one): bool => microtime(true) - $one[1] < self::FRESH_SECONDS);
        $ping = new PingProcess($this->loop);
        $this->looking[$ip] = [$ping, microtime(true)];
        $ping->echoes($ip, self::ECHOES, 0.2, self::PATIENCE_SECONDS)->then(
            function (array $seconds) use ($ip): void {
                unset($this->looking[$ip]);
                $this->seen[$ip] = [array_filter($seconds, static fn(?float $one): bool => $one !== null) !== [], microtime(true)];
            },
            // Where no echo can be sent from here, nothing is known.
            function () use ($ip): void {
                unset($this->looking[$ip]);
            },
        );
    }
}
