<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Definition;

use Olivine\App\Platform\Definition\ClockTime;
use Olivine\App\Platform\Definition\Field\Names;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\App\Platform\Problem;
use Olivine\Core\Roster\Handover;

/** When turns change: daily at some times, weekly on a weekday, or every so many days. */
final readonly class HandoverDefinition
{
    private const WEEK = 7;

    /**
     * @param int          $everyDays 1: daily
     * @param int          $weekday   with 7 days: on which, Monday is 1; 0: on none in particular
     * @param list<string> $at        `08:00`; several only where it is daily
     */
    public function __construct(
        #[Whole(1, 366)]
        public int $everyDays,
        #[Whole(0, self::WEEK)]
        public int $weekday,
        #[Names(5, 24)]
        public array $at,
    ) {
    }

    /** @throws Problem naming the field */
    public function core(): Handover
    {
        $minutes = array_map(static fn(string $one): int => ClockTime::minutes('at', $one), $this->at);
        if ($minutes === []) {
            throw Problem::field('at', 'at: say at which time turns change, such as 08:00');
        }
        if ($this->everyDays === 1 && $this->weekday === 0) {
            return Handover::daily(...$minutes);
        }
        if (count($minutes) > 1) {
            throw Problem::field('at', 'at: turns change at several times only where they do each day');
        }
        if ($this->weekday === 0) {
            return Handover::every(max(1, $this->everyDays), $minutes[0]);
        }

        return $this->everyDays === self::WEEK
            ? Handover::weekly(min(self::WEEK, max(1, $this->weekday)), $minutes[0])
            : throw Problem::field('weekday', 'weekday: turns change on a weekday only where they do each week');
    }
}
