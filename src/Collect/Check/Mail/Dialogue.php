<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check\Mail;

use Olivine\App\Collect\Definition\Encryption;

/** Lines said and heard over one connection to an address that was found before; the certificate must be for the name. */
final class Dialogue
{
    private const LONGEST_LINE = 65_536;
    private const MOST_BYTES = 2_000_000;
    private int $heard = 0;

    /** @param resource $stream */
    private function __construct(private $stream, private readonly float $patience)
    {
    }

    /** @throws MailboxFault */
    public static function with(string $ip, string $name, int $port, Encryption $encryption, bool $mayBeOurs, float $patience): self
    {
        $names = ['peer_name' => $name, 'verify_peer' => !$mayBeOurs, 'verify_peer_name' => !$mayBeOurs, 'allow_self_signed' => $mayBeOurs];
        $host = str_contains($ip, ':') ? "[{$ip}]" : $ip;
        $stream = @stream_socket_client(
            "tcp://{$host}:{$port}",
            $code,
            $words,
            $patience,
            context: stream_context_create(['ssl' => ['SNI_enabled' => true, ...$names]]),
        );
        if ($stream === false) {
            throw new MailboxFault("The mailbox cannot be reached: {$words}");
        }
        $dialogue = new self($stream, $patience);
        if ($encryption === Encryption::Tls) {
            $dialogue->encrypt();
        }

        return $dialogue;
    }

    /** @throws MailboxFault */
    public function encrypt(): void
    {
        // What came before TLS was agreed is nobody's word.
        if (stream_get_meta_data($this->stream)['unread_bytes'] > 0) {
            throw new MailboxFault('The mailbox said something between the agreement on TLS and TLS itself', true);
        }
        stream_set_timeout($this->stream, (int) $this->patience, (int) (1_000_000 * ($this->patience - (int) $this->patience)));
        if (@stream_socket_enable_crypto($this->stream, true, STREAM_CRYPTO_METHOD_TLS_CLIENT) !== true) {
            $words = (string) preg_replace('~^.*?(?:routines::|:\s)~', '', error_get_last()['message'] ?? 'no agreement');
            throw new MailboxFault('No TLS with the mailbox: ' . trim($words));
        }
    }

    /** @throws MailboxFault */
    public function say(string $line): void
    {
        if (preg_match('~[\x00\r\n]~', $line) === 1) {
            throw new MailboxFault('What is said to a mailbox is one line');
        }
        if (@fwrite($this->stream, "{$line}\r\n") === false) {
            throw new MailboxFault('The mailbox broke off');
        }
    }

    /**
     * @return string without its end
     *
     * @throws MailboxFault
     */
    public function line(): string
    {
        $line = $this->within(fn(): string|false => fgets($this->stream, self::LONGEST_LINE));
        if (!str_ends_with($line, "\n")) {
            throw new MailboxFault('The mailbox sent a line that does not end');
        }

        return rtrim($line, "\r\n");
    }

    /** @throws MailboxFault */
    public function bytes(int $count): string
    {
        return $count === 0 ? '' : $this->within(fn(): string|false => stream_get_contents($this->stream, min($count, self::MOST_BYTES)));
    }

    public function close(): void
    {
        @fclose($this->stream);
    }

    /**
     * @param \Closure(): (string|false) $read
     *
     * @throws MailboxFault
     */
    private function within(\Closure $read): string
    {
        stream_set_timeout($this->stream, (int) $this->patience, (int) (1_000_000 * ($this->patience - (int) $this->patience)));
        $read = $read();
        if ($read === false || $read === '') {
            $isLate = stream_get_meta_data($this->stream)['timed_out'];
            throw new MailboxFault($isLate ? "The mailbox did not answer within {$this->patience} s" : 'The mailbox broke off');
        }
        $this->heard += strlen($read);
        if ($this->heard > self::MOST_BYTES) {
            throw new MailboxFault('The mailbox said more than is read of it');
        }

        return $read;
    }
}
