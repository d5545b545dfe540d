<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** A check that cannot be read any more, and why. */
final readonly class CheckFault
{
    public function __construct(public int $id, public string $name, public string $words)
    {
    }
}
