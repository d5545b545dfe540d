<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check\Mail;

/** Why a mailbox could not be looked into, as a sentence without a full stop. */
final class MailboxFault extends \RuntimeException
{
    /** @param bool $isRefusal whether asking again would be refused again; wrong passwords are not tried over and over */
    public function __construct(string $words, public readonly bool $isRefusal = false)
    {
        parent::__construct($words);
    }
}
