<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class YesOrNo extends FieldRule
{
    public function fault(mixed $value): ?string
    {
        return is_bool($value) ? null : '{field} must be true or false';
    }
}
