<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

final readonly class TrailLine
{
    public function __construct(public int $id, public int $at, public string $kind, public string $words)
    {
    }
}
