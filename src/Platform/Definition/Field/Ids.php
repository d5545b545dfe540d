<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

/** Ids of things, each once. */
#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class Ids extends FieldRule
{
    public function __construct(private readonly int $most, private readonly int $least = 1)
    {
        parent::__construct();
    }

    public function taken(mixed $value): mixed
    {
        return $this->fault($value) === null && is_array($value) ? array_values(array_unique($value, SORT_REGULAR)) : $value;
    }

    public function fault(mixed $value): ?string
    {
        $isList =
            is_array($value)
            && count($value) >= $this->least
            && count($value) <= $this->most
            && array_filter($value, static fn(mixed $id): bool => !is_int($id) || $id < 1) === [];

        return $isList ? null : "{field} must be a list of {$this->least} to {$this->most} ids";
    }
}
