<?php

declare(strict_types=1);

namespace Olivine\App\Supervise;

/** The loopback ports of an instance: a run of fourteen from a base that can be chosen. */
final readonly class Ports
{
    public const DEFAULT_BASE = 8420;

    public function __construct(public int $base)
    {
    }

    public function web(): int
    {
        return $this->base;
    }

    public function database(): int
    {
        return $this->base + 1;
    }

    public function fleet(): int
    {
        return $this->base + 2;
    }

    public function mailbox(): int
    {
        return $this->base + 3;
    }

    public function smtp(): int
    {
        return $this->base + 4;
    }

    public function agent(): int
    {
        return $this->base + 5;
    }

    public function pages(): int
    {
        return $this->base + 6;
    }

    public function sink(): int
    {
        return $this->base + 7;
    }

    public function phone(): int
    {
        return $this->base + 8;
    }

    public function chat(): int
    {
        return $this->base + 9;
    }

    public function desk(): int
    {
        return $this->base + 10;
    }

    public function browser(): int
    {
        return $this->base + 11;
    }

    /** Where letters of the round trip are handed over. */
    public function round(): int
    {
        return $this->base + 13;
    }

    /** Where they are read. */
    public function pop3(): int
    {
        return $this->base + 12;
    }

    /** @return array<string, int> */
    public function all(): array
    {
        return [
            'web' => $this->web(),
            'database' => $this->database(),
            'fleet' => $this->fleet(),
            'mailbox' => $this->mailbox(),
            'smtp' => $this->smtp(),
            'agent' => $this->agent(),
            'pages' => $this->pages(),
            'sink' => $this->sink(),
            'phone' => $this->phone(),
            'chat' => $this->chat(),
            'desk' => $this->desk(),
            'browser' => $this->browser(),
            'round' => $this->round(),
            'pop3' => $this->pop3(),
        ];
    }

    /** @return array<string, int> those that somebody listens on */
    public function taken(): array
    {
        return array_filter($this->all(), static function (int $port): bool {
            $socket = @stream_socket_client("tcp://127.0.0.1:{$port}", $code, $message, 0.2);
            if ($socket === false) {
                return false;
            }
            fclose($socket);

            return true;
        });
    }
}
