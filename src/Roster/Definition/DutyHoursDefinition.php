<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Definition;

use Olivine\App\Platform\Definition\ClockTime;
use Olivine\App\Platform\Definition\Field\Ids;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Problem;
use Olivine\Core\Roster\DutyHours;

/** Hours to which a rotation is restricted; those that end before they begin go on after midnight. */
final readonly class DutyHoursDefinition
{
    /**
     * @param string         $from `22:00`
     * @param string         $to   `06:00`, `24:00`
     * @param list<int>|null $days on which they begin, Monday is 1; null: every day
     */
    public function __construct(
        #[Line(5, 5)]
        public string $from,
        #[Line(5, 5)]
        public string $to,
        #[Ids(7)]
        public ?array $days = null,
    ) {
    }

    /** @throws Problem naming the field */
    public function core(): DutyHours
    {
        $days = $this->days ?? [];
        if ($days !== [] && max($days) > 7) {
            throw Problem::field('days', 'days must be of 1 (Monday) to 7 (Sunday)');
        }

        return new DutyHours(ClockTime::minutes('from', $this->from), ClockTime::minutes('to', $this->to, true), $days);
    }
}
