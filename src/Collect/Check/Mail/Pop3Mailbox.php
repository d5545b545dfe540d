<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check\Mail;

/** A mailbox read by POP3 (RFC 1939, RFC 2595); it shows what was there when one came, so each look is a visit of its own. */
final class Pop3Mailbox implements Mailbox
{
    private const MOST_LETTERS = 200;
    private ?Dialogue $visit = null;
    /** @var array<string, array{string, string}> what it calls a letter → of which check, and which round */
    private array $known = [];

    /** @param \Closure(): Dialogue $visits */
    public function __construct(
        private readonly \Closure $visits,
        private readonly string $user,
        #[\SensitiveParameter]
        private readonly string $password,
        private readonly bool $encrypts,
    ) {
    }

    public function letters(string $of): array
    {
        $this->close();
        $letters = [];
        foreach (array_slice($this->numbers(), -self::MOST_LETTERS, null, true) as $name => $number) {
            $this->known[$name] ??= $this->marks($number);
            [$whose, $round] = $this->known[$name];
            if ($whose === $of) {
                $letters[$name] = $round;
            }
        }

        return $letters;
    }

    public function remove(array $letters): void
    {
        $numbers = $this->numbers();
        foreach ($letters as $name) {
            if (isset($numbers[$name])) {
                $this->ask("DELE {$numbers[$name]}");
            }
        }
        $this->ask('QUIT');
        $this->close();
    }

    public function close(): void
    {
        $this->visit?->close();
        $this->visit = null;
    }

    /**
     * @return array<string, string> what it calls a letter → its number while this visit lasts
     *
     * @throws MailboxFault
     */
    private function numbers(): array
    {
        if ($this->visit === null) {
            $this->begin();
        }
        $this->ask('UIDL');
        $numbers = [];
        foreach ($this->lines() as $line) {
            [$number, $name] = [...explode(' ', $line, 2), ''];
            if (ctype_digit($number) && $name !== '') {
                // The prefix keeps a name of digits alone a word.
                $numbers["u{$name}"] = $number;
            }
        }

        return $numbers;
    }

    /**
     * @return array{string, string}
     *
     * @throws MailboxFault
     */
    private function marks(string $number): array
    {
        $this->ask("TOP {$number} 0");
        $marks = ['', ''];
        foreach ($this->lines() as $line) {
            if (preg_match('~^(' . Mailbox::OF . '|' . Mailbox::ROUND . '):\s*(\w+)\s*$~i', $line, $found) === 1) {
                $marks[strcasecmp($found[1], Mailbox::OF) === 0 ? 0 : 1] = $found[2];
            }
        }

        return $marks;
    }

    /** @throws MailboxFault */
    private function begin(): void
    {
        $this->visit = $visit = ($this->visits)();
        $this->heard('What answers there is no POP3');
        if ($this->encrypts) {
            $this->ask('STLS');
            $visit->encrypt();
        }
        $this->ask("USER {$this->user}", 'The mailbox lets nobody in');
        $this->ask("PASS {$this->password}", 'The mailbox lets nobody in');
    }

    /** @throws MailboxFault */
    private function ask(string $what, string $failed = 'The mailbox refused'): void
    {
        $this->visit?->say($what);
        $this->heard($failed);
    }

    /** @throws MailboxFault */
    private function heard(string $failed): void
    {
        $line = (string) $this->visit?->line();
        if (!str_starts_with($line, '+OK')) {
            throw new MailboxFault("{$failed}: " . mb_substr(mb_scrub((string) preg_replace('~^-ERR\s*(?:\[\S+\]\s*)?~', '', $line)), 0, 200), true);
        }
    }

    /**
     * @return \Generator<string> up to the dot
     *
     * @throws MailboxFault
     */
    private function lines(): \Generator
    {
        while (($line = (string) $this->visit?->line()) !== '.') {
            yield str_starts_with($line, '.') ? substr($line, 1) : $line;
        }
    }
}
