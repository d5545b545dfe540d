<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

/** By which protocol a mailbox is read. */
enum MailboxKind: string
{
    case Imap = 'imap';
    case Pop3 = 'pop3';

    public function port(Encryption $encryption): int
    {
        $isTls = $encryption === Encryption::Tls;

        return $this === self::Imap ? ($isTls ? 993 : 143) : ($isTls ? 995 : 110);
    }
}
