<?php

declare(strict_types=1);

namespace Olivine\App\Store;

/** When a page was read within one run, as far as a question reaches. */
final readonly class RunTimes
{
    /**
     * @param list<int> $times
     * @param int       $first how many times of the run lie before these
     */
    public function __construct(public array $times, public int $first)
    {
    }
}
