<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

use Olivine\App\Platform\OneLine;

/** Text of one line: a name, an address. What breaks lines could forge them wherever it is written. */
#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class Line extends Text
{
    public function fault(mixed $value): ?string
    {
        return parent::fault($value) ??
            (is_string($value) && OneLine::isOne($value) ? null : '{field} must be one line, without control signs');
    }
}
