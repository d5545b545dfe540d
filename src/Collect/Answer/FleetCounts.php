<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

final readonly class FleetCounts
{
    public function __construct(public int $known, public int $new, public int $onTime, public int $paused)
    {
    }
}
