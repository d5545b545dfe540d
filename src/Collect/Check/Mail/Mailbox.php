<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check\Mail;

/** Where letters of round trips arrive. Of others' letters nothing is read but two headers, and none is touched. */
interface Mailbox
{
    /** The header that tells whose letter it is: of which check, from which place. */
    public const OF = 'X-Olivine-Check';
    /** The header that tells the round. */
    public const ROUND = 'X-Olivine-Round';

    /**
     * @return array<int|string, string> what the mailbox calls each letter of this check → its round
     *
     * @throws MailboxFault
     */
    public function letters(string $of): array;

    /**
     * @param list<int|string> $letters what the mailbox calls them
     *
     * @throws MailboxFault
     */
    public function remove(array $letters): void;

    public function close(): void;
}
