<?php

declare(strict_types=1);

namespace Olivine\App\Files;

/**
 * The lines of one thing in a YAML file, of which single keys are replaced while all else that somebody wrote, comments
 * and order among it, stays as it is.
 */
final class YamlBlock
{
    /**
     * @param list<string> $lines  of the whole file
     * @param int          $begin  place of the line with the key of the thing
     * @param int          $end    place after its last line
     * @param int          $indent of its own keys
     */
    private function __construct(private array $lines, private readonly int $begin, private int $end, private readonly int $indent)
    {
    }

    /** @return self|null null: it does not stand as a block of lines */
    public static function at(string $text, int $line): ?self
    {
        $lines = explode("\n", $text);
        $begin = $line - 1;
        $outer = self::indentOf($lines[$begin]);
        $isBlock = preg_match('~:\s*(#.*)?$~', $lines[$begin]) === 1;
        $end = self::endOf($lines, $begin, $outer);
        $first = $isBlock && $end > $begin + 1 ? self::indentOf($lines[self::firstOf($lines, $begin + 1)]) : 0;

        return $first > $outer ? new self($lines, $begin, $end, $first) : null;
    }

    /**
     * A text in which one thing stands anew.
     *
     * @param list<string> $written without what it stands in
     */
    public static function replaced(string $text, int $line, string $key, array $written): string
    {
        $lines = explode("\n", $text);
        $begin = $line - 1;
        $indent = self::indentOf($lines[$begin]);
        $pad = str_repeat(' ', $indent + 2);
        $new = array_map(static fn(string $one): string => $one === '' ? '' : $pad . $one, $written);
        array_splice($lines, $begin, self::endOf($lines, $begin, $indent) - $begin, [str_repeat(' ', $indent) . "{$key}:", ...$new]);

        return implode("\n", $lines);
    }

    /**
     * @param list<string> $written its new lines, not indented; none: the key goes
     * @param list<string> $before  keys after which it may stand, the nearest last
     */
    public function put(string $key, array $written, array $before): void
    {
        $pad = str_repeat(' ', $this->indent);
        $new = array_map(static fn(string $line): string => $line === '' ? '' : $pad . $line, $written);
        $at = $this->placeOf($key);
        if ($at !== null) {
            $length = self::endOf($this->lines, $at, $this->indent) - $at;
        } else {
            [$at, $length] = [$this->after($before), 0];
        }
        array_splice($this->lines, $at, $length, $new);
        $this->end += count($new) - $length;
    }

    public function text(): string
    {
        return implode("\n", $this->lines);
    }

    /** @param list<string> $keys */
    private function after(array $keys): int
    {
        foreach (array_reverse($keys) as $key) {
            $at = $this->placeOf($key);
            if ($at !== null) {
                return self::endOf($this->lines, $at, $this->indent);
            }
        }

        return $this->begin + 1;
    }

    private function placeOf(string $key): ?int
    {
        for ($i = $this->begin + 1; $i < $this->end; ++$i) {
            $isHere = self::indentOf($this->lines[$i]) === $this->indent;
            if ($isHere && preg_match('~^\s*["\']?' . preg_quote($key, '~') . '["\']?\s*:~', $this->lines[$i]) === 1) {
                return $i;
            }
        }

        return null;
    }

    /**
     * @param list<string> $lines
     *
     * @return int the place after the last line that lies deeper; comments and empty lines before the next thing are that thing's
     */
    private static function endOf(array $lines, int $begin, int $indent): int
    {
        $end = $begin + 1;
        for ($i = $begin + 1; $i < count($lines); ++$i) {
            if (trim($lines[$i]) === '' || ltrim($lines[$i])[0] === '#') {
                continue;
            }
            if (self::indentOf($lines[$i]) <= $indent) {
                break;
            }
            $end = $i + 1;
        }

        return $end;
    }

    /** @param list<string> $lines */
    private static function firstOf(array $lines, int $from): int
    {
        while (trim($lines[$from]) === '' || ltrim($lines[$from])[0] === '#') {
            ++$from;
        }

        return $from;
    }

    private static function indentOf(string $line): int
    {
        return strspn($line, ' ');
    }
}
