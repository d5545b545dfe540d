<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

final readonly class TrailLine
{
    public function __construct(public int $id, public Instant $at, public string $kind, public string $words)
    {
    }
}
