<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** All jobs over a span of time. */
final readonly class Jobs
{
    /**
     * @param list<Job>        $jobs   by name
     * @param list<CheckFault> $unread those whose settings cannot be read any more
     */
    public function __construct(public int $from, public int $to, public array $jobs, public array $unread)
    {
    }
}
