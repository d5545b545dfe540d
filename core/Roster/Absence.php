<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

use Olivine\Core\Time\Instant;

/** Somebody is away within `[from, to)`. */
final readonly class Absence
{
    public function __construct(public int $person, public Instant $from, public Instant $to)
    {
    }
}
