<?php

declare(strict_types=1);

namespace Olivine\Core\Job;

use Olivine\Core\Time\Instant;

/** One time at which a job was to run, and what became of it. */
final readonly class Expected
{
    public function __construct(public Instant $at, public DueState $state, public ?JobRun $run = null)
    {
    }
}
