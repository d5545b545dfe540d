<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

/** Whole numbers by name, such as the values that were read before. */
#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class Numbers extends FieldRule
{
    public function fault(mixed $value): ?string
    {
        return is_array($value) && array_filter($value, static fn(mixed $one): bool => !is_int($one)) === []
            ? null
            : '{field} must be an object of whole numbers';
    }
}
