<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/**
 * Where in a document a value stands: in JSON by a pointer (RFC 6901, `/queue/depth`) or a path (RFC 9535, `$.items[0].free`), in
 * XML and HTML by an XPath (`//fare/@price`), in plain text by the words around it (`used_memory:*`, the star stands for the value).
 */
final readonly class DocumentPlace
{
    public const LONGEST = 500;
    private const MOST_BYTES = 256_000;
    private const MOST_FOUND = 200;

    public function __construct(public DocumentKind $kind, public string $path)
    {
    }

    public function isPointer(): bool
    {
        return $this->kind === DocumentKind::Json && ($this->path === '' || str_starts_with($this->path, '/'));
    }

    /**
     * What stands at a pointer.
     *
     * @return list<string|float|bool|null> one, or none
     *
     * @throws NoDocument where a list or an object stands there, which has no value of its own
     */
    public function pointedAt(mixed $document): array
    {
        foreach ($this->path === '' ? [] : explode('/', substr($this->path, 1)) as $key) {
            $key = str_replace(['~1', '~0'], ['/', '~'], $key);
            $isThere = is_array($document) && array_key_exists($key, $document) && (!array_is_list($document) || (string) (int) $key === $key);
            if (!$isThere) {
                return [];
            }
            $document = $document[$key];
        }

        return [self::value($document, $this->path)];
    }

    /** Whether a place in plain text says where the value stands, and has words to know it by. */
    public function isAroundAValue(): bool
    {
        return substr_count($this->path, '*') === 1 && trim($this->path, " *\t") !== '';
    }

    /**
     * What stands between the words, in each place where they stand; blanks are as long as they like.
     *
     * A question mark alone passes over one word. `Active connections: *` in "Active connections: 43 \n" is 43.
     *
     * @return list<string>
     */
    public function foundIn(string $text): array
    {
        if (!$this->isAroundAValue()) {
            return [];
        }
        [$before, $after] = array_map(
            static fn(string $words): string => (string) preg_replace(['~(?<=\s)\\\\\?(?=\s)~', '~\s+~'], ['\S+', '\s+'], preg_quote($words, '~')),
            explode('*', trim($this->path)),
        );
        // It begins where a word begins: `used_memory:*` is not found in `peak_used_memory:7`.
        preg_match_all("~(?<![\\w.-]){$before}([^\\s,;]{1,200}+){$after}~", substr($text, 0, self::MOST_BYTES), $found);

        return array_slice($found[1], 0, self::MOST_FOUND);
    }

    /** @throws NoDocument where it is a list or an object */
    public static function value(mixed $found, string $where): string|float|bool|null
    {
        return match (true) {
            is_int($found) => (float) $found,
            is_string($found), is_float($found), is_bool($found), $found === null => $found,
            default => throw new NoDocument("at {$where} stands a list or an object, no single value"),
        };
    }

    public function words(): string
    {
        return $this->path === '' ? 'the whole document' : $this->path;
    }
}
