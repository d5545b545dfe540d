<?php

declare(strict_types=1);

namespace Olivine\App\Files;

/**
 * Where each key of a YAML text stands, and where its value begins. What the text holds is read by the YAML parser; this walks
 * along the lines beside it, as the parser does not tell places.
 *
 * In "rules:\n  queue:\n    raise: { major: above 4 }" the value of rules → queue → raise → major begins at line 3, column 21.
 */
final class YamlPlaces
{
    private const KEY = '~\G("(?:[^"\\\\]|\\\\.)*+"|\'(?:[^\']|\'\')*+\'|[^\s#:,{}\[\]&*!|>\'"%@`][^:#,{}\[\]\n]*?)\s*:(?=[\s]|$)\s*~';

    /** @var array<string, FilePlace> path → of its key */
    private array $keys = [];
    /** @var array<string, FilePlace> path → of the first character of its value */
    private array $values = [];
    /** @var array<string, true> paths whose value stands on the lines below */
    private array $blocks = [];
    /** @var list<array{int, list<string>}> indent and path of what the line lies in */
    private array $open = [];
    /** @var array<string, int> path → how many items of its list were seen */
    private array $items = [];

    public function __construct(string $text)
    {
        $block = null;
        foreach (explode("\n", $text) as $i => $line) {
            $indent = strspn($line, ' ');
            $rest = trim(substr($line, $indent));
            if ($rest === '' || ($block !== null && $indent > $block)) {
                continue;
            }
            $block = null;
            if ($rest[0] !== '#') {
                $block = $this->line($line, $i + 1, $indent);
            }
        }
    }

    /**
     * The place of a key, or of the nearest one around it that is there.
     *
     * @param list<string> $path
     */
    public function ofKey(array $path): FilePlace
    {
        return $this->nearest($this->keys, $path);
    }

    /**
     * The place of a byte in the value of a key.
     *
     * @param list<string> $path
     */
    public function inValue(array $path, string $value, int $offset): FilePlace
    {
        $key = self::joined($path);
        $place = $this->nearest($this->values, $path);
        if (!isset($this->values[$key])) {
            return $place;
        }
        if (!isset($this->blocks[$key])) {
            return new FilePlace($place->line, $place->column + mb_strlen(substr($value, 0, $offset)));
        }
        $before = substr($value, 0, $offset);
        $lines = explode("\n", $before);
        $line = count($lines) - 1;
        $column = mb_strlen(end($lines));

        return new FilePlace($place->line + $line, $place->column + $column);
    }

    /** @return int|null the indent of a value that goes on below, where it does */
    private function line(string $line, int $number, int $indent): ?int
    {
        $at = $indent;
        while (preg_match('~\G-(?:\s+|$)~', $line, $dash, 0, $at) === 1) {
            $this->close($at);
            $parent = self::joined($this->path());
            $item = $this->items[$parent] = ($this->items[$parent] ?? -1) + 1;
            $this->keep([...$this->path(), (string) $item], new FilePlace($number, $at + 1), $at + strlen($dash[0]) + 1);
            $this->open[] = [$at, [...$this->path(), (string) $item]];
            $at += strlen($dash[0]);
        }
        if (preg_match(self::KEY, $line, $found, 0, $at) !== 1) {
            if ($at > $indent) {
                $this->flow(substr($line, $at), $this->path(), $number, $at);
            }

            return null;
        }
        $this->close($at);
        $path = [...$this->path(), self::plain($found[1])];
        $valueAt = $at + strlen($found[0]);
        $value = substr($line, $valueAt);
        $isBelow = preg_match('~^[|>][+-]?\d?\s*(?:#.*)?$~', $value) === 1;
        $this->keep($path, new FilePlace($number, $at + 1), $valueAt + 1 + (in_array($value[0] ?? '', ['"', "'"], true) ? 1 : 0));
        if ($isBelow) {
            $this->blocks[self::joined($path)] = true;
            $this->values[self::joined($path)] = new FilePlace($number + 1, $indent + 3);
        }
        $this->open[] = [$at, $path];
        $this->flow($value, $path, $number, $valueAt);

        return $isBelow ? $at : null;
    }

    /**
     * The keys of `{ a: 1, b: { c: 2 } }`.
     *
     * @param list<string> $path
     */
    private function flow(string $text, array $path, int $line, int $before): void
    {
        if (($text[0] ?? '') !== '{') {
            return;
        }
        $inside = [];
        $length = strlen($text);
        $key = null;
        for ($at = 0; $at < $length; ++$at) {
            $character = $text[$at];
            if ($character === '{') {
                $inside[] = $key === null ? $path : [...end($inside) ?: $path, $key];
                $key = null;
            } elseif ($character === '}') {
                array_pop($inside);
            }
            $isKeyNext = $inside !== [] && ($character === '{' || $character === ',');
            $start = $at + 1 + strspn($text, ' ', $at + 1);
            if ($isKeyNext && preg_match(self::KEY, $text, $found, 0, $start) === 1) {
                $key = self::plain($found[1]);
                $valueAt = $start + strlen($found[0]);
                $quoted = in_array($text[$valueAt] ?? '', ['"', "'"], true) ? 1 : 0;
                $this->keep([...end($inside), $key], new FilePlace($line, $before + $start + 1), $before + $valueAt + $quoted + 1);
                $at = $valueAt - 1;
                if ($quoted === 1) {
                    $closing = strpos($text, $text[$valueAt], $valueAt + 1);
                    $at = $closing === false ? $length : $closing;
                }
            }
        }
    }

    /** @param list<string> $path */
    private function keep(array $path, FilePlace $key, int $valueColumn): void
    {
        $this->keys[self::joined($path)] ??= $key;
        $this->values[self::joined($path)] ??= new FilePlace($key->line, $valueColumn);
    }

    private function close(int $indent): void
    {
        while ($this->open !== [] && end($this->open)[0] >= $indent) {
            array_pop($this->open);
        }
    }

    /** @return list<string> of what the line lies in */
    private function path(): array
    {
        return $this->open === [] ? [] : end($this->open)[1];
    }

    /**
     * @param array<string, FilePlace> $places
     * @param list<string>             $path
     */
    private function nearest(array $places, array $path): FilePlace
    {
        while ($path !== []) {
            if (isset($places[self::joined($path)])) {
                return $places[self::joined($path)];
            }
            array_pop($path);
        }

        return new FilePlace(1, 1);
    }

    /** @param list<string> $path */
    private static function joined(array $path): string
    {
        return implode("\x1f", $path);
    }

    private static function plain(string $key): string
    {
        return match ($key[0]) {
            '"' => stripcslashes(substr($key, 1, -1)),
            "'" => str_replace("''", "'", substr($key, 1, -1)),
            default => $key,
        };
    }
}
