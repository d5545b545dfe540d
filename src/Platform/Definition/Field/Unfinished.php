<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

/** Something on the way, which is kept as it stands in a form: any object of ours, but not more than that. */
#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class Unfinished extends FieldRule
{
    private const LONGEST_BYTES = 100_000;
    private const DEEPEST = 12;

    public function fault(mixed $value): ?string
    {
        $isObject = is_array($value) && ($value === [] || !array_is_list($value));
        $text = $isObject ? json_encode($value, JSON_PRESERVE_ZERO_FRACTION, self::DEEPEST) : false;

        return $text !== false && strlen($text) <= self::LONGEST_BYTES
            ? null
            : '{field} must be an object of at most ' . self::LONGEST_BYTES . ' bytes';
    }
}
