<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Text;
use Olivine\App\Platform\Definition\Field\YesOrNo;
use Olivine\App\Roster\Entity\AbsenceCalendar;

/** A calendar from outside: at an address, or as a file. */
final readonly class CalendarFields
{
    /**
     * @param string $url      where it is read again and again; "": it is a file
     * @param string $text     the file
     * @param bool   $holidays of the site; for administrators
     */
    public function __construct(
        #[Line(AbsenceCalendar::NAME_LENGTH, 1)]
        public string $name,
        #[Line(2_000)]
        public string $url = '',
        #[Text(1_000_000)]
        public string $text = '',
        #[YesOrNo]
        public bool $holidays = false,
    ) {
    }
}
