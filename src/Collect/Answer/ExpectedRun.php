<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Job\DueState;

/** One time at which a job was to run. */
final readonly class ExpectedRun
{
    /** @param int|null $run which one it was */
    public function __construct(public int $at, public DueState $state, public ?int $run)
    {
    }
}
