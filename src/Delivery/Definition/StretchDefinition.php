<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\ClockTime;
use Olivine\App\Platform\Definition\Field\Ids;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Problem;

/** Hours of some days of the week; those that end before they begin go on after midnight. */
final readonly class StretchDefinition
{
    /**
     * @param list<int> $days 1 to 7, Monday first
     * @param string    $from `08:00`
     * @param string    $to   `18:00`, `24:00`
     */
    public function __construct(
        #[Ids(7)]
        public array $days,
        #[Line(5, 5)]
        public string $from,
        #[Line(5, 5)]
        public string $to,
    ) {
    }

    /**
     * @return array{non-empty-list<int>, int, int} days, and from and to in minutes
     *
     * @throws Problem naming the field
     */
    public function core(): array
    {
        $days = $this->days;
        sort($days);
        if ($days === [] || max($days) > 7) {
            throw Problem::field('days', 'days must be of 1 (Monday) to 7 (Sunday)');
        }

        return [$days, ClockTime::minutes('from', $this->from), ClockTime::minutes('to', $this->to, true)];
    }
}
