<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

final readonly class OnCall
{
    public function __construct(public int $from, public string $next, public string $person, public int $to)
    {
    }
}
