<?php

declare(strict_types=1);

namespace Olivine\Standin\Mailbox;

/** One visit of a reader to a box: it sees what lay there when it came, and what it takes away is gone when it leaves. */
final class Visit
{
    private const LONGEST_LINE = 512;
    public bool $isOver = false;
    /** @var array<int, true> */
    public array $removed = [];
    private string $buffer = '';
    private string $user = '';
    private bool $isIn = false;
    /** @var list<int> its numbers begin with 1 */
    private readonly array $names;

    /**
     * @param array<int, string>             $letters
     * @param \Closure(string, string): bool $knows
     */
    public function __construct(private readonly array $letters, private readonly \Closure $knows)
    {
        $this->names = array_keys($letters);
    }

    /** @return list<string> what is said to it */
    public function hear(string $data): array
    {
        $answers = [];
        $this->buffer .= $data;
        while (!$this->isOver && ($end = strpos($this->buffer, "\n")) !== false) {
            $line = rtrim(substr($this->buffer, 0, $end), "\r");
            $this->buffer = substr($this->buffer, $end + 1);
            $answers[] = $this->answer($line);
        }
        if (strlen($this->buffer) > self::LONGEST_LINE) {
            $this->isOver = true;
            $answers[] = "-ERR too long\r\n";
        }

        return $answers;
    }

    private function answer(string $line): string
    {
        [$word, $rest] = [...explode(' ', $line, 2), ''];
        $word = strtoupper($word);
        if ($word === 'QUIT') {
            $this->isOver = true;

            return "+OK bye\r\n";
        }
        if (!$this->isIn) {
            return $this->enter($word, $rest);
        }
        $there = array_diff_key($this->letters, $this->removed);
        [$number, $lines] = [...explode(' ', $rest), '', '0'];
        $name = $this->names[(int) $number - 1] ?? 0;
        $isThere = isset($there[$name]);

        return match ($word) {
            'NOOP' => "+OK\r\n",
            'STAT' => sprintf("+OK %d %d\r\n", count($there), array_sum(array_map(strlen(...), $there))),
            'LIST' => $this->list($there, static fn(int $name, string $letter): int => strlen($letter)),
            'UIDL' => $this->list($there, static fn(int $name): int => $name),
            'TOP' => $isThere ? "+OK\r\n" . self::top($there[$name], (int) $lines) : "-ERR no such letter\r\n",
            'RETR' => $isThere ? "+OK\r\n" . self::top($there[$name], PHP_INT_MAX) : "-ERR no such letter\r\n",
            'DELE' => $isThere ? $this->remove($name) : "-ERR no such letter\r\n",
            'RSET' => $this->remove(null),
            default => "-ERR not known here\r\n",
        };
    }

    private function enter(string $word, string $rest): string
    {
        if ($word === 'USER') {
            $this->user = $rest;

            return "+OK\r\n";
        }
        $this->isIn = $word === 'PASS' && ($this->knows)($this->user, $rest);

        return $this->isIn ? "+OK come in\r\n" : "-ERR nobody is let in with that\r\n";
    }

    private function remove(?int $name): string
    {
        $this->removed = $name === null ? [] : $this->removed + [$name => true];

        return "+OK\r\n";
    }

    /**
     * @param array<int, string>         $there
     * @param callable(int, string): int $said
     */
    private function list(array $there, callable $said): string
    {
        $lines = "+OK\r\n";
        foreach ($this->names as $i => $name) {
            if (isset($there[$name])) {
                $lines .= ($i + 1) . ' ' . $said($name, $there[$name]) . "\r\n";
            }
        }

        return "{$lines}.\r\n";
    }

    private static function top(string $letter, int $lines): string
    {
        [$head, $body] = [...explode("\r\n\r\n", rtrim($letter, "\r\n"), 2), ''];
        $shown = array_slice(explode("\r\n", $body), 0, $lines);

        return preg_replace('~^\.~m', '..', "{$head}\r\n\r\n" . implode("\r\n", $shown)) . "\r\n.\r\n";
    }
}
