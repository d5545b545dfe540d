<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Calendar;

use Olivine\Core\Time\Instant;

/** One entry of a calendar. */
final readonly class CalendarSpan
{
    /** @param string|null $day of an entry that is all of it: 2026-12-25, the first one */
    public function __construct(public Instant $from, public Instant $to, public string $words, public ?string $day)
    {
    }
}
