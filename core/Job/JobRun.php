<?php

declare(strict_types=1);

namespace Olivine\Core\Job;

use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** One run of a job, as far as it reported. */
final readonly class JobRun
{
    /** @param int|null $exitCode where it told one */
    public function __construct(
        public int $id,
        public Instant $beganAt,
        public ?Instant $endedAt = null,
        public ?RunOutcome $outcome = null,
        public ?int $exitCode = null,
    ) {
    }

    /** How long it took, or has taken until now. */
    public function took(Instant $now): Duration
    {
        return ($this->endedAt ?? $now)->since($this->beganAt);
    }
}
