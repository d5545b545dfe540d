<?php

declare(strict_types=1);

namespace Olivine\Core\Time;

/**
 * Set times of each day on the clocks of a zone: 09:00 and 17:00 in Lisbon. A time that the clocks leave out moves forward by as much,
 * one that they show twice is the first.
 */
final readonly class DailyTimes
{
    /** @param non-empty-list<int> $minutes of the day, 0 to 1439 */
    public function __construct(public array $minutes, public \DateTimeZone $zone)
    {
    }

    /** The first one at or after an instant. */
    public function from(Instant $at): Instant
    {
        $day = $at->in($this->zone)->setTime(0, 0);
        for ($ahead = 0; $ahead <= 2; ++$ahead) {
            $found = array_find($this->ofDay($day->modify("+{$ahead} days")), static fn(Instant $one): bool => !$one->isBefore($at));
            if ($found !== null) {
                return $found;
            }
        }

        throw new \LogicException('No day is without its times');
    }

    /** `09:00 or 17:00`. */
    public function words(): string
    {
        $minutes = $this->minutes;
        sort($minutes);

        return implode(' or ', array_map(self::clock(...), $minutes));
    }

    public static function clock(int $minute): string
    {
        return sprintf('%02d:%02d', intdiv($minute, 60), $minute % 60);
    }

    /** @return list<Instant> in the order of time */
    private function ofDay(\DateTimeImmutable $day): array
    {
        $times = array_map(static fn(int $minute): Instant => Instant::of($day->setTime(intdiv($minute, 60), $minute % 60)), $this->minutes);
        usort($times, static fn(Instant $a, Instant $b): int => $a->ms <=> $b->ms);

        return $times;
    }
}
