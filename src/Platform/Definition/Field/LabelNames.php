<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

/** Names of labels, each once. */
#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class LabelNames extends FieldRule
{
    private const MOST = 10;
    private const LONGEST_BYTES = 200;

    public function fault(mixed $value): ?string
    {
        $isList = is_array($value) && array_is_list($value) && count($value) <= self::MOST;

        return $isList && $value === array_unique($value, SORT_REGULAR) && array_all($value, self::isName(...))
            ? null
            : '{field} must be a list of at most ' . self::MOST . ' names of labels, each once';
    }

    private static function isName(mixed $name): bool
    {
        return is_string($name) && $name !== '' && strlen($name) <= self::LONGEST_BYTES && mb_check_encoding($name, 'UTF-8');
    }
}
