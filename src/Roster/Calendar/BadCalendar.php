<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Calendar;

/** A calendar that cannot be read, with what is wrong and the remedy. */
final class BadCalendar extends \RuntimeException
{
}
