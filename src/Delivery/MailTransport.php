<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Platform\Settings;
use Symfony\Component\Mailer\Envelope;
use Symfony\Component\Mailer\Exception\TransportException;
use Symfony\Component\Mailer\SentMessage;
use Symfony\Component\Mailer\Transport;
use Symfony\Component\Mailer\Transport\Smtp\SmtpTransport;
use Symfony\Component\Mailer\Transport\Smtp\Stream\SocketStream;
use Symfony\Component\Mailer\Transport\TransportInterface;
use Symfony\Component\Mime\RawMessage;

/** The mail server that is set now; where another one is set, the next mail goes there. */
final class MailTransport implements TransportInterface
{
    /** For each answer of the server: a mail must be gone, or not, well within the time that a slot is ours. */
    private const LONGEST_WAIT_SECONDS = 10.0;

    private ?TransportInterface $transport = null;
    private ?string $dsn = null;

    public function __construct(private readonly Settings $settings)
    {
    }

    public function send(RawMessage $message, ?Envelope $envelope = null): ?SentMessage
    {
        return $this->transport()->send($message, $envelope);
    }

    /** @return bool whether another server was set since the last mail; told once */
    public function isAnother(): bool
    {
        $dsn = $this->settings->mailDsn();
        if ($this->dsn === $dsn) {
            return false;
        }
        $isFirst = $this->dsn === null;
        $this->rest();
        $this->transport = null;
        $this->dsn = $dsn;

        return !$isFirst;
    }

    /** Lets go of the connection while there is nothing to send. */
    public function rest(): void
    {
        if ($this->transport instanceof SmtpTransport) {
            $this->transport->stop();
        }
    }

    /** The server's last line, from the transcript. */
    public static function answer(string $transcript): string
    {
        preg_match_all('~^.*< (250 .*)$~m', $transcript, $lines);

        return mb_substr(trim((string) end($lines[1])), 0, 500);
    }

    public function __toString(): string
    {
        return 'the mail server that is set';
    }

    private function transport(): TransportInterface
    {
        $dsn = $this->settings->mailDsn();
        if ($dsn === '') {
            throw new TransportException('No mail server is set; an administrator can set one in Setup');
        }
        if ($this->transport === null || $dsn !== $this->dsn) {
            $this->transport = Transport::fromDsn($dsn);
            $stream = $this->transport instanceof SmtpTransport ? $this->transport->getStream() : null;
            if ($stream instanceof SocketStream) {
                $stream->setTimeout(self::LONGEST_WAIT_SECONDS);
            }
            $this->dsn = $dsn;
        }

        return $this->transport;
    }
}
