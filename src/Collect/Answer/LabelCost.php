<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

final readonly class LabelCost
{
    public function __construct(public string $name, public float $bytesADay, public int $series, public int $values)
    {
    }
}
