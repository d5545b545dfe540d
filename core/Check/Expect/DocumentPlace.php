<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/**
 * Where in a document a value stands: in JSON by a pointer (RFC 6901, `/queue/depth`) or a path (RFC 9535, `$.items[0].free`), in
 * XML and HTML by an XPath (`//fare/@price`).
 */
final readonly class DocumentPlace
{
    public const LONGEST = 500;

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
