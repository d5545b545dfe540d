<?php

declare(strict_types=1);

namespace Olivine\Core\Job;

/** How a run of a job ended. */
enum RunOutcome: string
{
    case Done = 'done';
    case Failed = 'failed';
}
