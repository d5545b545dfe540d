<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

/** One of the words of an enumeration. */
final class OneOf extends FieldRule
{
    /** @param class-string<\BackedEnum> $enum */
    public function __construct(private readonly string $enum)
    {
        parent::__construct();
    }

    public function fault(mixed $value): ?string
    {
        if (is_string($value) && $this->enum::tryFrom($value) !== null) {
            return null;
        }
        $words = array_map(static fn(\BackedEnum $case): string => (string) $case->value, $this->enum::cases());

        return '{field} must be one of ' . implode(', ', $words);
    }
}
