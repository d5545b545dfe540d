<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

use Olivine\Core\Time\Instant;

/** Somebody stands in for somebody else: wherever a rotation names the one within `[from, to)`, the other is on call instead. */
final readonly class Cover
{
    public function __construct(public int $person, public int $for, public Instant $from, public Instant $to)
    {
    }
}
