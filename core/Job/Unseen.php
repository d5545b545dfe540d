<?php

declare(strict_types=1);

namespace Olivine\Core\Job;

use Olivine\Core\Time\Instant;

/** A span in which Olivine itself stood still, so that a job could not report. */
final readonly class Unseen
{
    public function __construct(public Instant $from, public Instant $to)
    {
    }

    public function has(Instant $at): bool
    {
        return !$at->isBefore($this->from) && $at->isBefore($this->to);
    }
}
