<?php

declare(strict_types=1);

namespace Olivine\Core\Job;

use Olivine\Core\Time\Instant;

/** When a job is to run. */
interface JobTimes
{
    /** The first time to run after an instant at which it ran. */
    public function next(Instant $after): Due;

    /** `every 15 min`, `30 2 * * * in Europe/Lisbon`. */
    public function words(): string;
}
