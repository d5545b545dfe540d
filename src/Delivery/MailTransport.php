<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Channel\SendBound;
use Olivine\App\Platform\Settings;
use Symfony\Component\Mailer\Envelope;
use Symfony\Component\Mailer\Exception\TransportException;
use Symfony\Component\Mailer\SentMessage;
use Symfony\Component\Mailer\Transport;
use Symfony\Component\Mailer\Transport\Smtp\EsmtpTransport;
use Symfony\Component\Mailer\Transport\Smtp\SmtpTransport;
use Symfony\Component\Mailer\Transport\Smtp\Stream\SocketStream;
use Symfony\Component\Mailer\Transport\TransportInterface;
use Symfony\Component\Mime\RawMessage;

/** The mail server that is set now; where another one is set, the next mail goes there. */
final class MailTransport implements TransportInterface
{
    public const NO_SERVER = 'No mail server is set; an administrator can set one in Setup';
    private const GOODBYE_SECONDS = 1.0;

    private ?TransportInterface $transport = null;
    private ?BoundedStream $stream = null;
    private ?string $dsn = null;

    public function __construct(private readonly Settings $settings)
    {
    }

    public function send(RawMessage $message, ?Envelope $envelope = null): ?SentMessage
    {
        $transport = $this->transport();
        $this->stream?->begin(SendBound::SECONDS);

        return $transport->send($message, $envelope);
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
            $this->stream?->begin(self::GOODBYE_SECONDS);
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
            throw new TransportException(self::NO_SERVER);
        }
        if ($this->transport === null || $dsn !== $this->dsn) {
            $this->transport = $this->bounded(Transport::fromDsn($dsn));
            $this->dsn = $dsn;
        }

        return $this->transport;
    }

    /** The same over a connection that comes to its end in time. */
    private function bounded(TransportInterface $transport): TransportInterface
    {
        $this->stream = null;
        $stream = $transport instanceof EsmtpTransport ? $transport->getStream() : null;
        if (!$transport instanceof EsmtpTransport || !$stream instanceof SocketStream) {
            return $transport;
        }
        $this->stream = new BoundedStream(like: $stream);
        $bounded = new EsmtpTransport($stream->getHost(), $stream->getPort(), $stream->isTLS(), stream: $this->stream);
        $bounded->setAutoTls($transport->isAutoTls())->setRequireTls($transport->isTlsRequired());
        $bounded->setLocalDomain($transport->getLocalDomain());

        return $bounded->setUsername($transport->getUsername())->setPassword($transport->getPassword());
    }
}
