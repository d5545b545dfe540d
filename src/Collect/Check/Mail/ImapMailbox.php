<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check\Mail;

/** A mailbox read by IMAP4rev1 (RFC 3501, RFC 4315 where it can remove single letters). */
final class ImapMailbox implements Mailbox
{
    private const MOST_LETTERS = 100;
    private int $said = 0;
    private bool $removesSingly = false;

    /** @throws MailboxFault */
    public function __construct(private readonly Dialogue $dialogue, string $user, #[\SensitiveParameter] string $password, bool $encrypts)
    {
        $greeting = $dialogue->line();
        if (!str_starts_with($greeting, '* OK')) {
            throw new MailboxFault('What answers there is no IMAP: ' . mb_substr(mb_scrub($greeting), 0, 120));
        }
        if ($encrypts) {
            $this->ask('STARTTLS');
            $dialogue->encrypt();
        }
        $this->ask('LOGIN ' . self::quoted($user) . ' ' . self::quoted($password), 'The mailbox lets nobody in');
        $this->removesSingly = preg_match('~\bUIDPLUS\b~i', implode(' ', $this->ask('CAPABILITY'))) === 1;
        $this->ask('SELECT INBOX');
    }

    public function letters(string $of): array
    {
        $this->ask('NOOP');
        $numbers = [];
        foreach ($this->ask('UID SEARCH UNDELETED HEADER ' . Mailbox::OF . ' ' . self::quoted($of)) as $line) {
            if (preg_match('~^\* SEARCH((?: \d{1,10})*)\s*$~Di', $line, $found) === 1) {
                $numbers = [...$numbers, ...array_filter(explode(' ', $found[1]), ctype_digit(...))];
            }
        }
        $letters = [];
        foreach (array_slice($numbers, -self::MOST_LETTERS) as $number) {
            $header = implode("\n", $this->ask("UID FETCH {$number} (BODY.PEEK[HEADER.FIELDS (" . Mailbox::ROUND . ')])'));
            if (preg_match('~^' . Mailbox::ROUND . ':\s*(\w+)~mi', $header, $round) === 1) {
                $letters[$number] = $round[1];
            }
        }

        return $letters;
    }

    /** Where single letters cannot be removed, they stay marked as deleted: others that were marked are not ours to remove. */
    public function remove(array $letters): void
    {
        if ($letters === []) {
            return;
        }
        $numbers = implode(',', $letters);
        $this->ask("UID STORE {$numbers} +FLAGS.SILENT (\\Deleted)");
        if ($this->removesSingly) {
            $this->ask("UID EXPUNGE {$numbers}");
        }
    }

    public function close(): void
    {
        $this->dialogue->close();
    }

    /**
     * @return list<string> what came before the word that it is done, with what was sent by its length as lines of their own
     *
     * @throws MailboxFault
     */
    private function ask(string $what, string $failed = 'The mailbox refused'): array
    {
        $tag = 'a' . ++$this->said;
        $this->dialogue->say("{$tag} {$what}");
        $lines = [];
        while (true) {
            $line = $this->dialogue->line();
            if (str_starts_with($line, "{$tag} ")) {
                $words = mb_scrub(substr($line, strlen($tag) + 1));

                return preg_match('~^OK\b~i', $words) === 1
                    ? $lines
                    : throw new MailboxFault("{$failed}: " . mb_substr((string) preg_replace('~^(?:NO|BAD)\s+(?:\[\S+\]\s*)?~i', '', $words), 0, 200), true);
            }
            $lines[] = $line;
            if (preg_match('~\{(\d{1,7})\}$~D', $line, $literal) === 1) {
                $lines[] = $this->dialogue->bytes((int) $literal[1]);
            }
        }
    }

    private static function quoted(string $text): string
    {
        return '"' . addcslashes($text, '"\\') . '"';
    }
}
