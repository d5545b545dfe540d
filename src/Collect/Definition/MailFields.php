<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\SourceKind;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Whole;

/** A letter handed to a mail server, and looked for in the mailbox it is for. */
final readonly class MailFields implements LoggedIn
{
    public const PASSWORD = 'password';
    public const MAILBOX_PASSWORD = 'mailbox_password';
    public string $kind;

    /**
     * @param int|null $port              of the mail server; null: 465 with TLS from the first byte, 587 where one logs in, else 25
     * @param string   $user              "": the mail server takes it from anybody
     * @param bool     $mayBeOurs         whether nobody need vouch for the certificates
     * @param float    $patienceSeconds   for each of the two to be reached and to answer
     * @param float    $seenWithinSeconds how long the letter may be on its way
     */
    public function __construct(
        #[Line(253, 1)]
        public string $host,
        #[Line(320, 3)]
        public string $from,
        #[Line(320, 3)]
        public string $to,
        #[Line(253, 1)]
        public string $mailboxHost,
        #[Line(320, 1)]
        public string $mailboxUser,
        public MailboxKind $mailbox = MailboxKind::Imap,
        #[Whole(1, 65_535)]
        public ?int $port = null,
        public Encryption $encryption = Encryption::StartTls,
        #[Line(320)]
        public string $user = '',
        #[Whole(1, 65_535)]
        public ?int $mailboxPort = null,
        public Encryption $mailboxEncryption = Encryption::Tls,
        public bool $mayBeOurs = false,
        #[Number(0.1, 60)]
        public float $patienceSeconds = 10.0,
        #[Number(1, 600)]
        public float $seenWithinSeconds = 45.0,
    ) {
        $this->kind = SourceKind::Mail->value;
    }

    public function kind(): SourceKind
    {
        return SourceKind::Mail;
    }

    public function port(): int
    {
        return $this->port ?? match (true) {
            $this->encryption === Encryption::Tls => 465,
            $this->user !== '' => 587,
            default => 25,
        };
    }

    public function mailboxPort(): int
    {
        return $this->mailboxPort ?? $this->mailbox->port($this->mailboxEncryption);
    }

    public function address(): string
    {
        return "smtp://{$this->host}:{$this->port()}";
    }

    public function mailboxAddress(): string
    {
        return "{$this->mailbox->value}://{$this->mailboxUser}@{$this->mailboxHost}:{$this->mailboxPort()}";
    }

    /** A password that was entered for an encrypted way goes on no other. */
    public function logins(): array
    {
        return [
            self::PASSWORD => ["smtp {$this->encryption->value}://{$this->user}@{$this->host}:{$this->port()}"],
            self::MAILBOX_PASSWORD => ["{$this->mailboxAddress()} {$this->mailboxEncryption->value}"],
        ];
    }
}
