<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check\Mail;

use Olivine\App\Collect\Definition\Encryption;

/**
 * Lines said and heard over one connection to an address that was found before; the certificate must be for the name. Each answer is whole
 * within the patience, however it drips, and nothing is waited for past the end of the visit.
 */
final class Dialogue
{
    private const LONGEST_LINE = 65_536;
    private const MOST_BYTES = 2_000_000;
    private int $heard = 0;
    private string $buffer = '';

    /** @param resource $stream */
    private function __construct(private $stream, private readonly float $patience, private readonly float $until)
    {
        stream_set_blocking($stream, false);
    }

    /**
     * @param float $patience seconds for each answer
     * @param float $until    when the visit ends, whatever is said by then
     *
     * @throws MailboxFault
     */
    public static function with(string $ip, string $name, int $port, Encryption $encryption, bool $mayBeOurs, float $patience, float $until): self
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
        $dialogue = new self($stream, $patience, $until);
        if ($encryption === Encryption::Tls) {
            $dialogue->encrypt();
        }

        return $dialogue;
    }

    /** @throws MailboxFault */
    public function encrypt(): void
    {
        // What came before TLS was agreed is nobody's word.
        if ($this->buffer !== '' || stream_get_meta_data($this->stream)['unread_bytes'] > 0) {
            throw new MailboxFault('The mailbox said something between the agreement on TLS and TLS itself', true);
        }
        $end = $this->end();
        do {
            $agreed = @stream_socket_enable_crypto($this->stream, true, STREAM_CRYPTO_METHOD_TLS_CLIENT);
            if ($agreed === 0) {
                $this->await($end);
            }
        } while ($agreed === 0);
        if ($agreed !== true) {
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
        [$left, $end] = ["{$line}\r\n", $this->end()];
        while ($left !== '') {
            $written = @fwrite($this->stream, $left);
            if ($written === false || (feof($this->stream) && $written === 0)) {
                throw new MailboxFault('The mailbox broke off');
            }
            $left = substr($left, $written);
            if ($left !== '' && microtime(true) > $end) {
                throw $this->late();
            }
            if ($left !== '') {
                usleep(1_000);
            }
        }
    }

    /**
     * @return string without its end
     *
     * @throws MailboxFault
     */
    public function line(): string
    {
        $end = $this->end();
        while (!str_contains($this->buffer, "\n")) {
            if (strlen($this->buffer) > self::LONGEST_LINE) {
                throw new MailboxFault('The mailbox sent a line that does not end');
            }
            $this->more($end);
        }
        [$line, $this->buffer] = explode("\n", $this->buffer, 2) + ['', ''];

        return rtrim($line, "\r");
    }

    /** @throws MailboxFault */
    public function bytes(int $count): string
    {
        $end = $this->end();
        while (strlen($this->buffer) < $count) {
            $this->more($end);
        }
        $bytes = substr($this->buffer, 0, $count);
        $this->buffer = substr($this->buffer, $count);

        return $bytes;
    }

    public function close(): void
    {
        @fclose($this->stream);
    }

    /** @throws MailboxFault where nothing more comes in time, or too much */
    private function more(float $end): void
    {
        $read = (string) @fread($this->stream, 65_536);
        if ($read === '') {
            if (feof($this->stream)) {
                throw new MailboxFault('The mailbox broke off');
            }
            $this->await($end);

            return;
        }
        $this->buffer .= $read;
        $this->heard += strlen($read);
        if ($this->heard > self::MOST_BYTES) {
            throw new MailboxFault('The mailbox said more than is read of it');
        }
        if (microtime(true) > $end) {
            throw $this->late();
        }
    }

    /** @throws MailboxFault */
    private function await(float $end): void
    {
        $left = $end - microtime(true);
        if ($left <= 0) {
            throw $this->late();
        }
        [$read, $write, $except] = [[$this->stream], null, null];
        @stream_select($read, $write, $except, (int) $left, (int) (1_000_000 * ($left - (int) $left)));
    }

    private function end(): float
    {
        return min($this->until, microtime(true) + $this->patience);
    }

    private function late(): MailboxFault
    {
        return new MailboxFault("The mailbox did not answer within {$this->patience} s");
    }
}
