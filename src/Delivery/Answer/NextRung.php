<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

final readonly class NextRung
{
    public function __construct(public Instant $at, public string $person, public int $rung)
    {
    }
}
