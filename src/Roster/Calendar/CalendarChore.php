<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Calendar;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Platform\Chore;
use Olivine\Core\Time\Instant;

final readonly class CalendarChore implements Chore
{
    private const EVERY_MS = 20_000;

    public function __construct(private AbsenceCalendars $calendars, private EntityManagerInterface $entities)
    {
    }

    public function name(): string
    {
        return 'reading calendars';
    }

    public function everyMs(): int
    {
        return self::EVERY_MS;
    }

    public function do(Instant $now): void
    {
        $this->entities->clear();
        $this->calendars->readDue();
    }
}
