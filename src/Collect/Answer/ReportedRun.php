<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Job\RunOutcome;

/** One run of a job. */
final readonly class ReportedRun
{
    /** @param RunOutcome|null $outcome null where it has not said that it ended */
    public function __construct(
        public int $id,
        public int $beganAt,
        public ?int $endedAt,
        public ?RunOutcome $outcome,
        public ?int $exitCode,
    ) {
    }
}
