<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

final readonly class TriedStep
{
    /** @param bool $isGap whether it should reach somebody, and reaches nobody */
    public function __construct(public Instant $at, public bool $isGap, public string $words)
    {
    }
}
