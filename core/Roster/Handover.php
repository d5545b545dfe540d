<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

use Olivine\Core\Time\WallTimes;

/**
 * When turns change: on every so manieth day, at one or several times of it, on the clocks of a zone.
 *
 * Weekly on Monday 08:00, from Wednesday 25 November 2026 on: first on Monday 30 November, then on 7 December. Every 4 days at 22:00
 * from 25 November on: on the 25th, the 29th, the 3rd. Daily at 06:00 and 18:00: twice each day.
 */
final readonly class Handover
{
    /** @param non-empty-list<int> $minutes of the day, in any order */
    private function __construct(public int $everyDays, public ?int $weekday, public array $minutes)
    {
    }

    public static function daily(int ...$minutes): self
    {
        return new self(1, null, array_values($minutes) ?: [0]);
    }

    /** @param int<1, 7> $weekday Monday is 1 */
    public static function weekly(int $weekday, int $minute): self
    {
        return new self(7, $weekday, [$minute]);
    }

    /** @param positive-int $days */
    public static function every(int $days, int $minute): self
    {
        return new self($days, null, [$minute]);
    }

    /**
     * The turns that touch `[from, to)`, in the order of time.
     *
     * @param int $fromDay no turn begins before this day
     *
     * @return list<array{int, int}> when each begins, ms, and its number from 0 on; the last one begins at or after to
     */
    public function turns(WallTimes $wall, int $fromDay, int $fromMs, int $toMs): array
    {
        $first = $this->weekday === null ? $fromDay : $fromDay + ((($this->weekday - self::weekdayOf($fromDay)) % 7) + 7) % 7;
        // Two days before cover clocks that are ahead, and the change before the span.
        $number = max(0, intdiv(intdiv($fromMs, 86_400_000) - 2 - $first, $this->everyDays) - 1);
        $times = count($this->minutes);
        $turns = [];
        for (; ; ++$number) {
            $of = [];
            foreach ($this->minutes as $minute) {
                $of[] = $wall->at($first + $number * $this->everyDays, $minute);
            }
            sort($of);
            foreach ($of as $i => $at) {
                $turns[] = [$at, $number * $times + $i];
            }
            if ($of[0] >= $toMs) {
                return $turns;
            }
        }
    }

    /** @return int Monday is 1; 1 January 1970 was a Thursday */
    public static function weekdayOf(int $day): int
    {
        return 1 + ((($day + 3) % 7) + 7) % 7;
    }
}
