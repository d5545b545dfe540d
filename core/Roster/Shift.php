<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

final readonly class Shift
{
    /** @param int $nextPerson who takes over at its end, and stands behind this person until then */
    public function __construct(public int $person, public int $nextPerson, public int $startMs, public int $endMs)
    {
    }
}
