<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

/** What of a roster is shared out between people. */
enum Burden: string
{
    case Nights = 'nights';
    case Weekends = 'weekend days';
    case Hours = 'hours';
    case Holidays = 'holidays';
    case Wakings = 'wakings';
}
