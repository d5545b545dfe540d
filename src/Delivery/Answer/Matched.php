<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** What a filter matches of the alerts that are up now. */
final readonly class Matched
{
    /** @param list<string> $titles of some of them */
    public function __construct(public int $alerts, public array $titles)
    {
    }
}
