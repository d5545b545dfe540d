<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\Core\Check\Phases;
use React\Socket\ConnectionInterface;

/** When one connection came to what, from its beginning on, and what came back. */
final class SocketTimes
{
    public string $ip = '';
    public string $received = '';
    /** Whether it ended for a reason on our side. */
    public bool $isOurs = false;
    private readonly float $from;
    private ?float $named = null;
    private ?float $connected = null;
    private ?float $agreed = null;
    private ?float $answered = null;
    private float $last = 0.0;
    private bool $isLiteral = false;
    private ?ConnectionInterface $connection = null;
    private bool $isClosed = false;

    public function __construct()
    {
        $this->from = microtime(true);
    }

    public function named(string $ip, string $host): void
    {
        [$this->ip, $this->named, $this->isLiteral] = [$ip, $this->now(), trim($host, '[]') === $ip];
    }

    public function connected(): void
    {
        $this->connected = $this->now();
    }

    public function agreed(): void
    {
        $this->agreed = $this->now();
    }

    public function answered(): void
    {
        $this->last = $this->now();
        $this->answered ??= $this->last;
    }

    public function isConnected(): bool
    {
        return $this->connected !== null;
    }

    /** @return bool whether anybody waits for it still; else it is closed */
    public function holds(ConnectionInterface $connection): bool
    {
        if ($this->isClosed) {
            $connection->close();

            return false;
        }
        $this->connection = $connection;

        return true;
    }

    public function close(): void
    {
        $this->isClosed = true;
        $this->connection?->close();
        $this->connection = null;
    }

    public function phases(): Phases
    {
        $since = static fn(?float $at, ?float $before): ?float => $at === null ? null : max(0.0, $at - (float) $before);

        return new Phases(
            name: $this->isLiteral ? null : $this->named,
            connect: $since($this->connected, $this->named),
            tls: $since($this->agreed, $this->connected),
            wait: $since($this->answered, $this->agreed ?? $this->connected),
            transfer: $this->answered === null ? null : $since($this->last, $this->answered),
        );
    }

    private function now(): float
    {
        return microtime(true) - $this->from;
    }
}
