<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

/** The labels of a series that is there, whatever its source made of them. */
#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class SeriesLabels extends FieldRule
{
    private const MOST = 100;
    private const LONGEST_BYTES = 8_000;

    public function fault(mixed $value): ?string
    {
        $isFit = is_array($value)
            && count($value) <= self::MOST
            && array_filter($value, is_string(...)) === $value
            && mb_check_encoding($value, 'UTF-8')
            && array_sum(array_map(strlen(...), [...array_keys($value), ...array_values($value)])) <= self::LONGEST_BYTES;

        return $isFit ? null : '{field} must be an object of texts, as an alert has them';
    }
}
