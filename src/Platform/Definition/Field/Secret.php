<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

/** Text that is taken as it is, blanks and all. */
#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class Secret extends FieldRule
{
    /** @param int $longest bytes */
    public function __construct(private readonly int $longest)
    {
        parent::__construct();
    }

    public function fault(mixed $value): ?string
    {
        $isText = is_string($value) && strlen($value) <= $this->longest && !str_contains($value, "\0");

        return $isText ? null : "{field} must be a text of at most {$this->longest} bytes";
    }
}
