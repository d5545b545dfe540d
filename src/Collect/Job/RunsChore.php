<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Job;

use Olivine\App\Collect\Repository\JobRunRepository;
use Olivine\App\Collect\TargetLimit;
use Olivine\App\Collect\TargetLimits;
use Olivine\App\Platform\Chore;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/** Lets go of runs of jobs, once they are past the time they are kept for. */
final readonly class RunsChore implements Chore
{
    private const EVERY_MS = 600_000;
    /** Of one job: a year of every ten minutes, and what its last ones printed. */
    private const MOST_RUNS = 50_000;
    private const MOST_OUTPUTS = 1_000;

    public function __construct(private JobRunRepository $runs, private TargetLimits $limits)
    {
    }

    public function name(): string
    {
        return 'letting go of old runs';
    }

    public function everyMs(): int
    {
        return self::EVERY_MS;
    }

    public function do(Instant $now): void
    {
        $this->runs->forgetBefore($now->minus(Duration::ofDays($this->limits->values()[TargetLimit::RunDays->value])));
        $this->runs->forgetBeyond(self::MOST_RUNS, self::MOST_OUTPUTS);
    }
}
