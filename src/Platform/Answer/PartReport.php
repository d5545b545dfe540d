<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Answer;

final readonly class PartReport
{
    public function __construct(public string $name, public int $ageMs, public object $figures)
    {
    }
}
