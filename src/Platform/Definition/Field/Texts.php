<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

/** A text each for some of a few names. */
#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class Texts extends FieldRule
{
    /** @param list<string> $names that there are */
    public function __construct(private readonly array $names, private readonly int $longest)
    {
        parent::__construct();
    }

    public function taken(mixed $value): mixed
    {
        return is_array($value) ? array_filter($value, static fn(mixed $text): bool => $text !== '') : $value;
    }

    public function fault(mixed $value): ?string
    {
        if (!is_array($value)) {
            return '{field} must be an object of texts';
        }
        $text = new Text($this->longest, 1);
        foreach ($value as $name => $one) {
            if (!in_array((string) $name, $this->names, true)) {
                return '{field} may be of ' . implode(', ', $this->names) . ' only';
            }
            $fault = $text->fault($one);
            if ($fault !== null) {
                return str_replace('{field}', "{field} of {$name}", $fault);
            }
        }

        return null;
    }
}
