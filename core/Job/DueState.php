<?php

declare(strict_types=1);

namespace Olivine\Core\Job;

/** What became of one time at which a job was to run. */
enum DueState: string
{
    case Ran = 'ran';
    /** It ran, but only once its grace was over. */
    case RanLate = 'ran late';
    case Missing = 'missing';
    case Unseen = 'unseen';
    /** Its grace is not over yet, or it is still to come. */
    case Open = 'open';
}
