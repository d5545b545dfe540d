<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** The end of what a run printed. */
final readonly class RunOutput
{
    public function __construct(public ReportedRun $run, public string $output)
    {
    }
}
