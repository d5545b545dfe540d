<?php

declare(strict_types=1);

namespace Olivine\Core\Job;

use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** So long after it began last, whatever the clocks show: every 15 min. */
final readonly class EveryTimes implements JobTimes
{
    public function __construct(public Duration $interval)
    {
    }

    public function next(Instant $after): Due
    {
        return new Due($after->plus($this->interval));
    }

    public function words(): string
    {
        return "every {$this->interval->words()}";
    }
}
