<?php

declare(strict_types=1);

namespace Olivine\Standin\Mailbox;

use React\Socket\ConnectionInterface;
use React\Socket\SocketServer;

/** Takes mail by SMTP (RFC 5321), enough of it for any client: EHLO, MAIL, RCPT, DATA, RSET, NOOP, QUIT, 8BITMIME, SIZE, pipelining. */
final class SmtpServer
{
    private const MAX_BYTES = 20_000_000;

    /** While away it refuses with a temporary error, as a server in trouble does. */
    public bool $away = false;

    public function __construct(private readonly Letters|PostBox $letters)
    {
    }

    public function listen(string $address): void
    {
        (new SocketServer($address))->on('connection', function (ConnectionInterface $connection): void {
            $buffer = '';
            $sender = '';
            $recipients = [];
            $inData = false;
            $say = static fn(string $line): bool => $connection->write($line . "\r\n");
            $say($this->away ? '421 mailbox.saltmarsh.example is away, try later' : '220 mailbox.saltmarsh.example ready');
            if ($this->away) {
                $connection->end();

                return;
            }
            $connection->on('data', function (string $data) use (
                &$buffer,
                &$sender,
                &$recipients,
                &$inData,
                $say,
                $connection,
            ): void {
                $buffer .= $data;
                if (strlen($buffer) > self::MAX_BYTES) {
                    $say('552 too large');
                    $connection->end();

                    return;
                }
                if ($this->away) {
                    // Kept connections end as well.
                    $say('421 mailbox.saltmarsh.example is away, try later');
                    $connection->end();

                    return;
                }
                while (true) {
                    if ($inData) {
                        $end = strpos("\r\n{$buffer}", "\r\n.\r\n");
                        if ($end === false) {
                            return;
                        }
                        $letter = substr($buffer, 0, max(0, $end - 0));
                        $buffer = substr($buffer, $end + 3);
                        $this->receive($sender, $recipients, (string) preg_replace('~^\.\.~m', '.', $letter));
                        [$sender, $recipients, $inData] = ['', [], false];
                        $say('250 2.0.0 kept');
                        continue;
                    }
                    $end = strpos($buffer, "\r\n");
                    if ($end === false) {
                        return;
                    }
                    $line = substr($buffer, 0, $end);
                    $buffer = substr($buffer, $end + 2);
                    switch (strtoupper(substr($line, 0, 4))) {
                        case 'EHLO':
                            $say(
                                "250-mailbox.saltmarsh.example\r\n250-SIZE " .
                                    self::MAX_BYTES .
                                    "\r\n250-8BITMIME\r\n250 PIPELINING",
                            );
                            break;
                        case 'HELO':
                            $say('250 mailbox.saltmarsh.example');
                            break;
                        case 'MAIL':
                            $sender = self::address($line);
                            $recipients = [];
                            $say('250 2.1.0 ok');
                            break;
                        case 'RCPT':
                            $recipients[] = self::address($line);
                            $say('250 2.1.5 ok');
                            break;
                        case 'DATA':
                            if ($recipients === []) {
                                $say('503 5.5.1 first RCPT');
                                break;
                            }
                            $inData = true;
                            $say('354 go on, end with a single dot');
                            break;
                        case 'RSET':
                            [$sender, $recipients] = ['', []];
                            $say('250 2.0.0 ok');
                            break;
                        case 'NOOP':
                            $say('250 2.0.0 ok');
                            break;
                        case 'QUIT':
                            $say('221 2.0.0 bye');
                            $connection->end();

                            return;
                        default:
                            $say('502 5.5.2 not known here');
                    }
                }
            });
        });
    }

    /** @param list<string> $recipients */
    private function receive(string $sender, array $recipients, string $letter): void
    {
        if ($this->letters instanceof Letters) {
            $this->letters->receive($sender, $recipients, $letter);
        } elseif (in_array($this->letters->address, $recipients, true)) {
            $this->letters->receive($letter);
        }
    }

    private static function address(string $line): string
    {
        return preg_match('~<([^>]*)>~', $line, $part) === 1 ? $part[1] : '';
    }
}
