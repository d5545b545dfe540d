<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

/** A field that is one thing in service and another in the file; of what was changed by hand also what the file said before. */
final readonly class FieldChange
{
    public function __construct(public string $now, public string $file, public ?string $applied = null)
    {
    }
}
