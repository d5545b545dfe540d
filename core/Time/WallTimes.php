<?php

declare(strict_types=1);

namespace Olivine\Core\Time;

/**
 * Which instant a time of the day means on the clocks of a zone, over years of days. A time that the clocks leave out moves forward by
 * as much, one that they show twice is the first.
 *
 * By example in Lisbon: 01:30 on 29 March 2026, which is left out, is 02:30 there (01:30 UTC); 01:30 on 25 October 2026, which is shown
 * twice, is 00:30 UTC. Days are counted from 1 January 1970, which is day 0.
 */
final class WallTimes
{
    private const DAY_SECONDS = 86_400;
    private const YEAR_SECONDS = 366 * self::DAY_SECONDS;

    /** @var list<array{int, int}> until which second on the wall clocks are how far ahead of UTC, rising */
    private array $spans = [];
    private int $last = 0;
    private int $knownFrom = 0;
    private int $knownTo = 0;
    private int $place = 0;

    public function __construct(public readonly \DateTimeZone $zone)
    {
    }

    /** @return int milliseconds since 1970 UTC */
    public function at(int $day, int $minuteOfDay): int
    {
        $wall = self::DAY_SECONDS * $day + 60 * $minuteOfDay;
        $this->know($wall);
        // Whoever asks day by day finds it where the day before was found.
        $place = isset($this->spans[$this->place - 1]) && $this->spans[$this->place - 1][0] > $wall ? 0 : $this->place;
        while (isset($this->spans[$place]) && $this->spans[$place][0] <= $wall) {
            ++$place;
        }
        $this->place = $place;

        return 1000 * ($wall - ($this->spans[$place][1] ?? $this->last));
    }

    /** @return int the day that the clocks show at an instant */
    public function dayOf(Instant $at): int
    {
        return self::day($at->in($this->zone)->format('Y-m-d'));
    }

    /**
     * `2026-11-23` is day 20,780.
     *
     * @param string $date of which there is one
     */
    public static function day(string $date): int
    {
        return intdiv((int) strtotime("{$date} 00:00 UTC"), self::DAY_SECONDS);
    }

    /** The zone's changes of a year before and after what is asked, and more where that is asked. */
    private function know(int $wall): void
    {
        if ($wall - self::DAY_SECONDS >= $this->knownFrom && $wall + self::DAY_SECONDS < $this->knownTo) {
            return;
        }
        $isFirst = $this->knownFrom === $this->knownTo;
        $this->knownFrom = ($isFirst ? $wall : min($wall, $this->knownFrom)) - self::YEAR_SECONDS;
        $this->knownTo = ($isFirst ? $wall : max($wall, $this->knownTo)) + self::YEAR_SECONDS;
        $known = $this->zone->getTransitions($this->knownFrom, $this->knownTo);
        // A zone that is an offset from UTC never changes.
        $changes = $known === false ? [] : $known;
        $this->spans = [];
        $this->place = 0;
        $offset = $changes[0]['offset'] ?? $this->zone->getOffset(new \DateTimeImmutable("@{$wall}"));
        foreach (array_slice($changes, 1) as $change) {
            if ($change['offset'] !== $offset) {
                // Of a time that is shown twice, or not at all, the offset from before counts.
                $this->spans[] = [$change['ts'] + max($offset, $change['offset']), $offset];
                $offset = $change['offset'];
            }
        }
        $this->last = $offset;
    }
}
