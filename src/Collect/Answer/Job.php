<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** One job over a span of time: how it stands, when it was to run, and when it ran. */
final readonly class Job
{
    /**
     * @param list<ExpectedRun> $expected in the order of time; the last one is the next one
     * @param list<ReportedRun> $runs     in the order of time
     */
    public function __construct(public JobSettings $settings, public JobState $state, public array $expected, public array $runs)
    {
    }
}
