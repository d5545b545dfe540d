<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

/** What one person carried of a roster over a span. */
final readonly class FairShare
{
    /**
     * @param float $hours    on call
     * @param int   $nights   of which half or more was theirs
     * @param int   $weekends Saturdays and Sundays of which half or more was theirs
     * @param int   $holidays of which half or more was theirs
     * @param int   $wakings  times they were rung in the night
     */
    public function __construct(
        public int $person,
        public float $hours,
        public int $nights,
        public int $weekends,
        public int $holidays,
        public int $wakings,
    ) {
    }

    public function of(Burden $what): float
    {
        return match ($what) {
            Burden::Nights => (float) $this->nights,
            Burden::Weekends => (float) $this->weekends,
            Burden::Hours => $this->hours,
            Burden::Holidays => (float) $this->holidays,
            Burden::Wakings => (float) $this->wakings,
        };
    }
}
