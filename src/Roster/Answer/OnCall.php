<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

final readonly class OnCall
{
    public function __construct(public Instant $from, public string $next, public string $person, public Instant $to)
    {
    }
}
