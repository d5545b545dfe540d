<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

/**
 * The labels of one series, in the order of their names. A label that is not there reads as "",
 * and a label whose value is "" is not there: the two cannot be told apart.
 */
final class LabelSet implements \JsonSerializable
{
    /** Written once, where somebody asks for it. */
    private ?string $key = null;

    /** @param array<string, string> $labels sorted by name, no empty values */
    private function __construct(public readonly array $labels)
    {
    }

    /** @param array<string, string> $labels in any order */
    public static function of(array $labels): self
    {
        $labels = array_filter($labels, static fn(string $value): bool => $value !== '');
        ksort($labels, SORT_STRING);

        return new self($labels);
    }

    /** An object also where there are none. */
    public function jsonSerialize(): object
    {
        return (object) $this->labels;
    }

    public static function none(): self
    {
        return new self([]);
    }

    public function get(string $name): string
    {
        return $this->labels[$name] ?? '';
    }

    /** @param list<string> $names */
    public function only(array $names): self
    {
        return new self(array_intersect_key($this->labels, array_flip($names)));
    }

    /** @param list<string> $names */
    public function without(array $names): self
    {
        return new self(array_diff_key($this->labels, array_flip($names)));
    }

    /** The same labels with these laid over them. */
    public function with(self $over): self
    {
        return self::of($over->labels + $this->labels);
    }

    /** One text a label set, the same for equal sets: `broker="broker-north",queue="boarding"`. */
    public function key(): string
    {
        return $this->key ??= $this->writeKey();
    }

    private function writeKey(): string
    {
        $parts = [];
        foreach ($this->labels as $name => $value) {
            $parts[] = $name . '="' . addcslashes($value, "\\\"\n") . '"';
        }

        return implode(',', $parts);
    }

    public function equals(self $other): bool
    {
        return $this->labels === $other->labels;
    }
}
