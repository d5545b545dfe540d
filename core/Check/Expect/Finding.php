<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/** Whether what was expected is so, and what was found, as a fact. */
final readonly class Finding
{
    public function __construct(public bool $holds, public string $fact)
    {
    }
}
