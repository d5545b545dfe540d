<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Job;

/** What a job says of a run. */
enum Report: string
{
    case Began = 'began';
    case Ended = 'ended';
    case Failed = 'failed';
}
