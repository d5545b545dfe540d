<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check\Mail;

use Olivine\App\Collect\Definition\Encryption;
use Olivine\App\Collect\Definition\MailboxKind;
use Olivine\App\Collect\Definition\MailFields;
use Olivine\Core\Check\Mail\MailExchange;
use Olivine\Core\Check\Mail\MailStage;
use Olivine\Core\Check\Phases;
use Symfony\Component\Mailer\Envelope;
use Symfony\Component\Mailer\Exception\TransportExceptionInterface;
use Symfony\Component\Mailer\Exception\UnexpectedResponseException;
use Symfony\Component\Mailer\Transport\Smtp\EsmtpTransport;
use Symfony\Component\Mailer\Transport\Smtp\Stream\SocketStream;
use Symfony\Component\Mime\Address;
use Symfony\Component\Mime\Email;

/** One letter, handed over and looked for; waits as it goes, so it has a program of its own. */
final class RoundTrip
{
    private const LOOKS_AGAIN_AFTER = 0.7;
    private const COMES_AGAIN_AFTER = 3.0;

    /**
     * @param string                $ip      where the mail server's name leads
     * @param string                $mailbox where the mailbox's does
     * @param string                $of      whose letter it is: letters of its former rounds are removed
     * @param array<string, string> $secrets
     */
    public function __construct(
        private readonly MailFields $fields,
        private readonly string $ip,
        private readonly string $mailbox,
        private readonly string $of,
        #[\SensitiveParameter]
        private readonly array $secrets,
    ) {
    }

    public function made(): MailExchange
    {
        $round = bin2hex(random_bytes(12));
        $from = microtime(true);
        try {
            $transport = $this->transport();
            $transport->start();
            $phases = new Phases(connect: microtime(true) - $from);
        } catch (\Throwable $error) {
            return new MailExchange(new Phases(), MailStage::Nowhere, self::words($error));
        }
        $handed = microtime(true);
        try {
            $transport->send($this->letter($round), new Envelope(new Address($this->fields->from), [new Address($this->fields->to)]));
            $taken = microtime(true);
            $phases = $phases->and(new Phases(wait: $taken - $handed));
            $transport->stop();
        } catch (\Throwable $error) {
            return new MailExchange($phases, MailStage::Greeted, 'The letter was refused: ' . self::words($error));
        }

        return $this->seen($round, $phases, $taken);
    }

    private function seen(string $round, Phases $phases, float $taken): MailExchange
    {
        [$late, $fault, $mailbox] = [[], null, null];
        do {
            try {
                $mailbox ??= $this->opened($taken + $this->fields->seenWithinSeconds + $this->fields->patienceSeconds);
                $letters = $mailbox->letters($this->of);
                $late += array_filter($letters, static fn(string $one): bool => $one !== $round);
                $isSeen = in_array($round, $letters, true);
                $seen = microtime(true);
                $mailbox->remove(array_keys($letters));
                if ($isSeen) {
                    return new MailExchange($phases->and(new Phases(transfer: $seen - $taken)), MailStage::Seen, late: count($late));
                }
                $fault = null;
            } catch (MailboxFault $error) {
                // It may be back before the time is over.
                $fault = $error->getMessage();
                $mailbox?->close();
                $mailbox = null;
                if ($error->isRefusal) {
                    break;
                }
            }
            usleep((int) (1_000_000 * ($fault === null ? self::LOOKS_AGAIN_AFTER : self::COMES_AGAIN_AFTER)));
        } while (microtime(true) < $taken + $this->fields->seenWithinSeconds);

        return new MailExchange($phases, MailStage::Accepted, $fault, late: count($late));
    }

    private function transport(): EsmtpTransport
    {
        $fields = $this->fields;
        $host = str_contains($this->ip, ':') ? "[{$this->ip}]" : $this->ip;
        $transport = new EsmtpTransport($host, $fields->port(), $fields->encryption === Encryption::Tls);
        $transport->setAutoTls($fields->encryption === Encryption::StartTls);
        $transport->setRequireTls($fields->encryption === Encryption::StartTls);
        $transport->setLocalDomain(gethostname() ?: 'localhost');
        if ($fields->user !== '') {
            $transport->setUsername($fields->user);
            $transport->setPassword($this->secrets[MailFields::PASSWORD] ?? '');
        }
        $stream = $transport->getStream();
        if ($stream instanceof SocketStream) {
            $stream->setTimeout($fields->patienceSeconds);
            $isVouched = !$fields->mayBeOurs;
            $stream->setStreamOptions(['ssl' => [
                'peer_name' => trim($fields->host, '[]'),
                'verify_peer' => $isVouched,
                'verify_peer_name' => $isVouched,
                'allow_self_signed' => !$isVouched,
            ]]);
        }

        return $transport;
    }

    private function letter(string $round): Email
    {
        $letter = (new Email())
            ->from($this->fields->from)
            ->to($this->fields->to)
            ->subject('A letter on its way, ' . gmdate('Y-m-d H:i:s') . ' UTC')
            ->text("Olivine sends this letter to itself, to see whether and how soon letters arrive. It is removed when it was seen.\n");
        $letter->getHeaders()->addTextHeader(Mailbox::OF, $this->of)->addTextHeader(Mailbox::ROUND, $round)->addTextHeader('Auto-Submitted', 'auto-generated');

        return $letter;
    }

    /** @throws MailboxFault */
    private function opened(float $until): Mailbox
    {
        $fields = $this->fields;
        $dialogue = fn(): Dialogue => Dialogue::with(
            $this->mailbox,
            trim($fields->mailboxHost, '[]'),
            $fields->mailboxPort(),
            $fields->mailboxEncryption,
            $fields->mayBeOurs,
            $fields->patienceSeconds,
            $until,
        );
        $password = $this->secrets[MailFields::MAILBOX_PASSWORD] ?? '';
        $encrypts = $fields->mailboxEncryption === Encryption::StartTls;

        return $fields->mailbox === MailboxKind::Imap
            ? new ImapMailbox($dialogue(), $fields->mailboxUser, $password, $encrypts)
            : new Pop3Mailbox($dialogue, $fields->mailboxUser, $password, $encrypts);
    }

    /** What the server said, where it said something; else what kept us from it. */
    private static function words(\Throwable $error): string
    {
        $words = $error->getMessage();
        if ($error instanceof UnexpectedResponseException && preg_match('~with message "(.*)"\.?$~s', $words, $said) === 1) {
            $words = $said[1];
        }
        if ($error instanceof TransportExceptionInterface) {
            $words = (string) preg_replace(['~^Connection could not be established with host "[^"]*":?\s*~', '~stream_socket_\w+\(\):\s*~'], '', $words);
        }

        return mb_substr(rtrim(trim((string) preg_replace('~\s+~', ' ', mb_scrub($words))), '.'), 0, 300);
    }
}
