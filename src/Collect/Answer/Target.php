<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

final readonly class Target extends TargetSettings
{
    /**
     * @param string $ticks its last scrapes, oldest first: the second each was taken over, and how it went, as a sign: `+` taken,
     *                      `-` failed, `!` refused, `/` paused; behind it how many milliseconds after its time it ended
     */
    public function __construct(TargetSettings $of, public ?TargetStatus $status, public string $ticks)
    {
        parent::__construct(...get_object_vars($of));
    }
}
