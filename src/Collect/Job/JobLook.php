<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Job;

use Olivine\App\Collect\Asking;
use Olivine\App\Collect\Entity\Target;
use Olivine\Core\Job\JobStanding;

/** One time of looking how a job stands. */
final class JobLook extends Asking
{
    public function __construct(Target $target, int $dueMs, public readonly ?JobStanding $standing)
    {
        parent::__construct($target, $dueMs);
    }
}
