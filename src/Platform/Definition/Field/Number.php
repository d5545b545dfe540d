<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class Number extends FieldRule
{
    public function taken(mixed $value): mixed
    {
        return is_int($value) ? (float) $value : $value;
    }

    public function fault(mixed $value): ?string
    {
        return is_float($value) ? null : '{field} must be a number';
    }
}
