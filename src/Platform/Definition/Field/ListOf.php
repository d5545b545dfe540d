<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

/** Some objects of one class, each with fields of its own. */
#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class ListOf extends FieldRule
{
    /** @param class-string $class */
    public function __construct(public readonly string $class, private readonly int $least, private readonly int $most)
    {
        parent::__construct();
    }

    public function fault(mixed $value): ?string
    {
        return is_array($value) && array_is_list($value) && count($value) >= $this->least && count($value) <= $this->most
            ? null
            : "{field} must be a list of {$this->least} to {$this->most}";
    }
}
