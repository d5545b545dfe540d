<?php

declare(strict_types=1);

namespace Olivine\App\Watch\Answer;

/** A team, by the names of its people. */
final readonly class WatchTeam
{
    /** @param list<string> $people */
    public function __construct(public string $name, public array $people)
    {
    }
}
