<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

use Olivine\Core\Time\Instant;

final readonly class Shift
{
    /** @param int $nextPerson who takes over at its end, and stands behind this person until then */
    public function __construct(public int $person, public int $nextPerson, public Instant $start, public Instant $end)
    {
    }
}
