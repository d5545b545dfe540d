<?php

declare(strict_types=1);

namespace Olivine\Standin\Mailbox;

use React\Socket\ConnectionInterface;
use React\Socket\SocketServer;

/**
 * The box of one reader, by POP3 (RFC 1939), enough of it for any client: USER, PASS, STAT, LIST, UIDL, TOP, RETR, DELE, RSET, NOOP, QUIT.
 * Letters for it are held in memory, the last few.
 */
final class PostBox
{
    private const MOST = 200;
    /** @var array<int, string> */
    private array $letters = [];
    private int $count = 0;

    public function __construct(public readonly string $address, private readonly string $password)
    {
    }

    public function receive(string $letter): void
    {
        $this->letters[++$this->count] = $letter;
        $this->letters = array_slice($this->letters, -self::MOST, null, true);
    }

    public function listen(string $address): void
    {
        (new SocketServer($address))->on('connection', function (ConnectionInterface $connection): void {
            $visit = new Visit($this->letters, fn(string $user, string $password): bool => [$user, $password] === [$this->address, $this->password]);
            $connection->write("+OK the box of {$this->address}\r\n");
            $connection->on('data', function (string $data) use ($connection, $visit): void {
                foreach ($visit->hear($data) as $answer) {
                    $connection->write($answer);
                }
                if ($visit->isOver) {
                    $this->letters = array_diff_key($this->letters, $visit->removed);
                    $connection->end();
                }
            });
        });
    }
}
