<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

/** What can be set of an instance while it runs. */
enum Setting: string
{
    case PublicUrl = 'publicUrl';
    case MailFrom = 'mailFrom';
    case MailDsn = 'mailDsn';
    case Zone = 'zone';
    case IdleHours = 'idleHours';
    case SessionDays = 'sessionDays';
    case Holidays = 'holidays';
    /** Days of the calendars of holidays, beside those that were entered. */
    case CalendarHolidays = 'calendarHolidays';
    case MostAnHour = 'mostAnHour';
    case MostAMinute = 'mostAMinute';
}
