<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\App\Delivery\Answer\ShownContact;

/** All that somebody on call wants to know of themselves. */
final readonly class MyOnCall
{
    /**
     * @param list<MyShift>       $shifts    of the next weeks
     * @param list<ShownCover>    $covers    asked of them, or for them
     * @param list<ShownAbsence>  $away
     * @param list<ShownContact>  $contacts  how they are reached
     * @param string              $junk      what is likely to be wrong where a code lies among junk
     * @param list<MyWaking>      $wakings   of the last month, the newest first
     * @param list<ShownLink>     $links
     * @param list<ShownCalendar> $calendars
     * @param bool                $isOnCall  now, by any roster
     */
    public function __construct(
        public array $shifts,
        public array $covers,
        public array $away,
        public array $contacts,
        public string $junk,
        public array $wakings,
        public array $links,
        public array $calendars,
        public bool $isOnCall,
    ) {
    }
}
