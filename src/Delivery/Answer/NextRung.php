<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

final readonly class NextRung
{
    public function __construct(public int $at, public string $person, public int $rung)
    {
    }
}
