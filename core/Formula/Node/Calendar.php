<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

use Olivine\Core\Formula\CalendarPart;

/** `hour("Europe/Lisbon")`, `weekday("Europe/Lisbon")`: of the instant itself. */
final readonly class Calendar implements Node
{
    public function __construct(public Place $place, public CalendarPart $part, public \DateTimeZone $zone)
    {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
