<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/** Reads what a person wrote of what is expected. */
final class ExpectationReader
{
    public const LONGEST = 2_000;
    private const DEEPEST = 12;
    private const MOST_TESTS = 40;

    private const TOKEN = '~\G(?:(?<space>\s+)
        |"(?<text>(?:[^"\\\\]|\\\\.)*+)"
        |(?<span>\d{3}\.\.\d{3})
        |(?<number>-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?)(?![\w.])
        |(?<path>[/$][^\s()"]*)
        |(?<name>[A-Za-z][A-Za-z0-9_-]*)
        |(?<sign><=|>=|!=|[=<>(),]))~xsu';

    /** @var list<array{string, string, int, int}> kind, what it says, from which byte, to which */
    private array $tokens = [];
    private int $next = 0;
    private int $tests = 0;

    /** @throws BadExpectation */
    private function __construct(private readonly string $text)
    {
        $this->cut();
    }

    /**
     * @return list<array{Expected, string}> what is joined by "and", each with how it was written
     *
     * @throws BadExpectation
     */
    public static function read(string $text): array
    {
        $reader = new self($text);
        if ($reader->kind() === 'end') {
            return [];
        }
        $parts = $reader->conjuncts(0);
        if ($reader->passes('or')) {
            $parts = [[new AnyOf([self::joined($parts), $reader->either(0)]), trim($text)]];
        }
        $reader->kind() === 'end' || throw $reader->fault('and, or, or the end');

        return $parts;
    }

    /** @throws BadExpectation */
    private function cut(): void
    {
        if (strlen($this->text) > self::LONGEST) {
            throw new BadExpectation(self::LONGEST, sprintf('What is expected holds at most %d bytes', self::LONGEST));
        }
        if (!mb_check_encoding($this->text, 'UTF-8')) {
            throw new BadExpectation(0, 'What is expected is not valid UTF-8');
        }
        for ($at = 0; $at < strlen($this->text); $at += strlen($part[0])) {
            if (preg_match(self::TOKEN, $this->text, $part, PREG_UNMATCHED_AS_NULL, $at) !== 1) {
                $sign = mb_substr(substr($this->text, $at), 0, 1);
                throw new BadExpectation($at, $sign === '"' ? 'These words have no closing "' : "Nothing that is expected begins with {$sign}");
            }
            foreach (['text', 'span', 'number', 'path', 'name', 'sign'] as $kind) {
                if (isset($part[$kind])) {
                    $said = $kind === 'text' ? (string) preg_replace('~\\\\(["\\\\])~', '$1', $part[$kind]) : $part[$kind];
                    $this->tokens[] = [$kind, $said, $at, $at + strlen($part[0])];
                }
            }
        }
        $this->tokens[] = ['end', '', strlen($this->text), strlen($this->text)];
    }

    private function kind(): string
    {
        return $this->tokens[$this->next][0];
    }

    private function passes(string $word): bool
    {
        $isIt = $this->kind() !== 'text' && strtolower($this->tokens[$this->next][1]) === $word;
        $this->next += (int) ($isIt && $this->kind() !== 'end');

        return $isIt;
    }

    private function fault(string $expected): BadExpectation
    {
        [$kind, $said, $at] = $this->tokens[$this->next];

        return new BadExpectation($at, ($kind === 'end' ? 'It ends' : "Here stands {$said}") . ", where {$expected} should be");
    }

    /** @throws BadExpectation */
    private function either(int $depth): Expected
    {
        $parts = [];
        do {
            $parts[] = self::joined($this->conjuncts($depth));
        } while ($this->passes('or'));

        return count($parts) === 1 ? $parts[0] : new AnyOf($parts);
    }

    /**
     * @return non-empty-list<array{Expected, string}> what is joined by "and", each with how it was written
     *
     * @throws BadExpectation
     */
    private function conjuncts(int $depth): array
    {
        $parts = [];
        do {
            $from = $this->tokens[$this->next][2];
            $part = $this->one($depth);
            $parts[] = [$part, substr($this->text, $from, $this->tokens[$this->next - 1][3] - $from)];
        } while ($this->passes('and'));

        return $parts;
    }

    /** @param non-empty-list<array{Expected, string}> $parts */
    private static function joined(array $parts): Expected
    {
        return count($parts) === 1 ? $parts[0][0] : new AllOf(array_column($parts, 0));
    }

    /** @throws BadExpectation */
    private function one(int $depth): Expected
    {
        if ($depth > self::DEEPEST || ++$this->tests > self::MOST_TESTS) {
            throw new BadExpectation(
                $this->tokens[$this->next][2],
                sprintf('At most %d things may be expected at once, %d brackets deep', self::MOST_TESTS, self::DEEPEST),
            );
        }
        if ($this->passes('not')) {
            return new NoneOf($this->one($depth + 1));
        }
        if ($this->passes('(')) {
            $inside = $this->either($depth + 1);
            $this->passes(')') || throw $this->fault(')');

            return $inside;
        }
        if ($this->kind() === 'text') {
            $words = $this->tokens[$this->next++][1];

            return $words !== '' ? new Words($words) : throw new BadExpectation($this->tokens[$this->next - 1][2], 'There are no words between these quotes');
        }
        $word = strtolower($this->tokens[$this->next][1]);

        return match (true) {
            $this->kind() === 'name' && $word === 'status' => $this->status(),
            $this->kind() === 'name' && $word === 'header' => $this->header(),
            $this->kind() === 'name' && DocumentKind::tryFrom($word) !== null => $this->place(DocumentKind::from($word)),
            default => throw $this->fault('"words", status, json, xml, html, text, header, not or ('),
        };
    }

    /** @throws BadExpectation */
    private function status(): StatusIn
    {
        ++$this->next;
        $isList = $this->passes('in') && $this->passes('(');
        $isList || $this->passes('=');
        $spans = [];
        do {
            [$kind, $said] = $this->tokens[$this->next];
            $spans[] = match (true) {
                $kind === 'span' => [(int) substr($said, 0, 3), (int) substr($said, 5)],
                $kind === 'number' && preg_match('~^[1-5]\d\d$~D', $said) === 1 => [(int) $said, (int) $said],
                default => throw $this->fault('a status such as 200, or a span such as 200..299,'),
            };
            ++$this->next;
        } while ($isList && $this->passes(','));
        !$isList || $this->passes(')') || throw $this->fault(')');

        return new StatusIn($spans);
    }

    /** @throws BadExpectation */
    private function header(): ValueTest
    {
        ++$this->next;
        in_array($this->kind(), ['name', 'text'], true) || throw $this->fault('the name of a header');

        return $this->compared(strtolower($this->tokens[$this->next++][1]));
    }

    /** @throws BadExpectation */
    private function place(DocumentKind $kind): ValueTest
    {
        ++$this->next;
        $example = match ($kind) {
            DocumentKind::Json => '/queue/depth',
            DocumentKind::Text => '"used_memory:*"',
            DocumentKind::Xml, DocumentKind::Html => '//fare/@price',
        };
        in_array($this->kind(), ['path', 'text'], true) || throw $this->fault("a place such as {$example}");
        [, $path, $at] = $this->tokens[$this->next++];
        strlen($path) <= DocumentPlace::LONGEST || throw new BadExpectation($at, sprintf('A place holds at most %d signs', DocumentPlace::LONGEST));

        $place = new DocumentPlace($kind, $path);
        if ($kind === DocumentKind::Text && !$place->isAroundAValue()) {
            throw new BadExpectation($at, 'A place in plain text is words with one star where the value stands, such as "used_memory:*"');
        }

        return $this->compared($place);
    }

    /** @throws BadExpectation */
    private function compared(DocumentPlace|string $where): ValueTest
    {
        $said = strtolower($this->tokens[$this->next][1]);
        $comparison = in_array($this->kind(), ['sign', 'name'], true) ? Comparison::tryFrom($said) : null;
        if ($comparison === null) {
            return new ValueTest($where, Comparison::IsThere, '');
        }
        ++$this->next;
        [$kind, $value] = $this->tokens[$this->next];
        $expected = match (true) {
            $kind === 'number' => (float) $value,
            $kind === 'text', $kind === 'name' && in_array($value, ['true', 'false', 'null'], true) => $value,
            default => throw $this->fault('a number, "words", true, false or null'),
        };
        ++$this->next;

        return new ValueTest($where, $comparison, $expected);
    }
}
