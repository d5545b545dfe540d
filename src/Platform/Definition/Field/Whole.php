<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
class Whole extends FieldRule
{
    public function __construct(private readonly int $least, private readonly int $most)
    {
        parent::__construct();
    }

    public function fault(mixed $value): ?string
    {
        return is_int($value) && $value >= $this->least && $value <= $this->most
            ? null
            : "{field} must be a whole number from {$this->least} to {$this->most}";
    }
}
