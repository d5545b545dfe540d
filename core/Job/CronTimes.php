<?php

declare(strict_types=1);

namespace Olivine\Core\Job;

use Cron\CronExpression;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;

/**
 * Times on the clocks of a zone, as a cron expression says them: `30 2 * * 1-5` is 02:30 from Monday to Friday.
 *
 * Where the clocks change, a job at set hours runs once: a time that is left out comes as soon as the clocks go on, one that is shown
 * twice is the first. A job of every hour, or every some minutes of each hour, runs as time goes by: on the night with two hours from
 * one to two, `0 * * * *` comes in both.
 */
final class CronTimes implements JobTimes
{
    private const DAY_SECONDS = 86_400;
    private const DAY_MINUTES = 1_440;
    private const MOST_DAYS_KEPT = 1_000;
    private const FIELDS = 5;

    private readonly WallTimes $times;
    /** @var array<int, int> day → the first one from it on that has a time, both counted from 1970 */
    private array $days = [];

    /**
     * @param non-empty-list<int> $minutes   of a day, rising, at which it comes
     * @param CronExpression      $midnights of the days that have a time
     */
    private function __construct(
        public readonly string $expression,
        public readonly \DateTimeZone $zone,
        private readonly array $minutes,
        private readonly CronExpression $midnights,
    ) {
        $this->times = new WallTimes($zone);
    }

    /** @throws BadSchedule saying what is wrong with it */
    public static function of(string $expression, \DateTimeZone $zone): self
    {
        $expression = trim((string) preg_replace('~\s+~', ' ', $expression));
        $fields = explode(' ', $expression);
        if (count($fields) !== self::FIELDS) {
            throw new BadSchedule('A schedule has five parts: minute, hour, day of the month, month, day of the week; such as 30 2 * * *');
        }
        [$minute, $hour, $day, $month, $weekday] = $fields;
        try {
            $midnights = new CronExpression("0 0 {$day} {$month} {$weekday}");
            // Some are well written and never come: 30 February.
            $midnights->getNextRunDate('2026-01-01', timeZone: 'UTC');
            $minutes = self::matching(new CronExpression("{$minute} * * * *"), range(0, 59), '2026-01-01 00:%02d');
            $hours = self::matching(new CronExpression("* {$hour} * * *"), range(0, 23), '2026-01-01 %02d:00');
        } catch (\InvalidArgumentException) {
            throw new BadSchedule("{$expression} cannot be read: minute, hour, day of the month, month, day of the week, such as 30 2 * * 1-5");
        } catch (\RuntimeException) {
            throw new BadSchedule("{$expression} never comes");
        }
        $ofDay = [];
        foreach ($hours as $h) {
            foreach ($minutes as $m) {
                $ofDay[] = 60 * $h + $m;
            }
        }

        return $ofDay === [] ? throw new BadSchedule("{$expression} never comes") : new self($expression, $zone, $ofDay, $midnights);
    }

    /**
     * @param list<int> $numbers
     *
     * @return list<int> those that it comes at
     */
    private static function matching(CronExpression $cron, array $numbers, string $clock): array
    {
        return array_values(array_filter($numbers, static fn(int $number): bool => $cron->isDue(sprintf($clock, $number), 'UTC')));
    }

    public function next(Instant $after): Due
    {
        return $this->isAtSetHours() ? $this->nextSet($after) : $this->nextPassing($after);
    }

    public function words(): string
    {
        if (preg_match('~^(\d{1,2}) \* \* \* \*$~D', $this->expression, $parts) === 1) {
            return sprintf('each hour at :%02d', $parts[1]);
        }
        if (preg_match('~^\*/(\d{1,2}) \* \* \* \*$~D', $this->expression, $parts) === 1) {
            return "each {$parts[1]} min of the hour";
        }
        $clock = preg_match('~^(\d{1,2}) (\d{1,2}) \* \* (\S+)$~D', $this->expression, $parts) === 1
            ? sprintf('%s at %02d:%02d', self::days($parts[3]), $parts[2], $parts[1])
            : $this->expression;

        return "{$clock} {$this->zone->getName()}";
    }

    private static function days(string $days): string
    {
        return match ($days) {
            '*' => 'daily',
            '1-5' => 'Monday to Friday',
            '0', '7' => 'on Sundays',
            '1' => 'on Mondays',
            '2' => 'on Tuesdays',
            '3' => 'on Wednesdays',
            '4' => 'on Thursdays',
            '5' => 'on Fridays',
            '6' => 'on Saturdays',
            default => "on days {$days}",
        };
    }

    private function isAtSetHours(): bool
    {
        return !str_starts_with(explode(' ', $this->expression)[1], '*');
    }

    private function nextSet(Instant $after): Due
    {
        // The clocks may have gone back since: what they showed before comes no second time.
        $wall = $this->wall($after) - 1;
        do {
            $wall = $this->nextOnTheWall($wall);
            $due = $this->dueAt($wall);
        } while (!$due->at->isAfter($after));

        return $due;
    }

    private function dueAt(int $wall): Due
    {
        $at = Instant::ofMs($this->times->at(intdiv($wall, self::DAY_SECONDS), intdiv($wall % self::DAY_SECONDS, 60)));
        if ($this->wall($at) === $wall) {
            return new Due($at);
        }
        // Left out: the clocks went on at the last change before.
        $seconds = intdiv($at->ms, 1000);
        $changes = $this->zone->getTransitions($seconds - self::DAY_SECONDS, $seconds + 1);
        $change = $changes === false ? $seconds : $changes[count($changes) - 1]['ts'];

        return new Due(Instant::ofMs(1000 * $change), $at);
    }

    private function nextPassing(Instant $after): Due
    {
        $from = intdiv($after->ms, 1000);
        $wall = $this->wall($after);
        $at = $from + $this->nextOnTheWall($wall) - $wall;
        $changes = $this->zone->getTransitions($from, $at + 1);
        // Behind a change of the clocks they are asked anew, with the very first minute that they show.
        if ($changes !== false && isset($changes[1])) {
            $change = $changes[1]['ts'];
            $shown = $this->wall(Instant::ofMs(1000 * $change));

            return new Due(Instant::ofMs(1000 * ($change + $this->nextOnTheWall($shown - 1) - $shown)));
        }

        return new Due(Instant::ofMs(1000 * $at));
    }

    /** @return int the first time after what the clocks show; both as seconds since 1970, as if the clocks were those of UTC */
    private function nextOnTheWall(int $wall): int
    {
        $minuteAfter = intdiv($wall, 60) + 1;
        $day = intdiv($minuteAfter, self::DAY_MINUTES);
        $from = $minuteAfter % self::DAY_MINUTES;
        $first = $this->firstDay($day);
        $minute = $first > $day ? $this->minutes[0] : array_find($this->minutes, static fn(int $one): bool => $one >= $from);
        [$first, $minute] = $minute === null ? [$this->firstDay($day + 1), $this->minutes[0]] : [$first, $minute];

        return $first * self::DAY_SECONDS + 60 * $minute;
    }

    private function firstDay(int $from): int
    {
        if (count($this->days) > self::MOST_DAYS_KEPT) {
            $this->days = [];
        }

        return $this->days[$from] ??= intdiv(
            $this->midnights->getNextRunDate(gmdate('Y-m-d', $from * self::DAY_SECONDS), allowCurrentDate: true, timeZone: 'UTC')->getTimestamp(),
            self::DAY_SECONDS,
        );
    }

    /** @return int what the clocks of the zone show, as seconds since 1970, as if they were those of UTC */
    private function wall(Instant $at): int
    {
        $seconds = (int) floor($at->ms / 1000);

        return $seconds + $at->in($this->zone)->getOffset();
    }
}
