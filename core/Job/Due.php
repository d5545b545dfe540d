<?php

declare(strict_types=1);

namespace Olivine\Core\Job;

use Olivine\Core\Time\Instant;

/**
 * One time at which a job is to run.
 *
 * On the night whose clocks leave out 02:30 some schedulers run a job of 02:30 as soon as the gap is over, others an hour after
 * 01:30: it is due at 03:00, and not late before 03:30.
 */
final readonly class Due
{
    public Instant $latest;

    /** @param Instant|null $latest until when it is in time, where that is not the same instant */
    public function __construct(public Instant $at, ?Instant $latest = null)
    {
        $this->latest = $latest ?? $at;
    }
}
