<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition;

/** Stands for an argument until it may be read. */
final readonly class UnreadBody
{
    /** @param class-string $class */
    public function __construct(public string $class)
    {
    }
}
