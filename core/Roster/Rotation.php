<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * People who take turns, changing at set hours of the day in a zone of their own.
 *
 * With Ines, Tomasz and Oyelaran changing at 06:00 and 18:00 Lisbon, shift n since the anchor belongs to person
 * n mod 3. Hours are wall-clock hours: a shift over a clock change is an hour longer or shorter, no hour is left out.
 */
final readonly class Rotation
{
    /**
     * @param non-empty-list<int> $people    their ids, in order
     * @param non-empty-list<int> $hours     0 to 23, rising
     * @param non-empty-string    $anchorDay `2026-01-01`: its first change begins shift 0
     */
    public function __construct(
        public array $people,
        public array $hours,
        public string $anchorDay,
        public \DateTimeZone $zone,
    ) {
    }

    public function at(Instant $at): Shift
    {
        return $this->between($at, $at->plus(Duration::ofMs(1)))[0];
    }

    /** @return non-empty-list<Shift> every shift that touches `[from, to)` */
    public function between(Instant $from, Instant $to): array
    {
        $anchor = new \DateTimeImmutable($this->anchorDay, $this->zone);
        $day = $from->in($this->zone)->modify('-1 day')->setTime(0, 0);
        $days = (int) round(($day->getTimestamp() - $anchor->getTimestamp()) / 86_400);
        $starts = [];
        for ($past = false; !$past; ++$days) {
            $day = $anchor->modify("{$days} days");
            foreach ($this->hours as $i => $hour) {
                $start = Instant::of($day->setTime($hour, 0));
                $starts[] = [$start, $days * count($this->hours) + $i];
                $past = $past || !$start->isBefore($to);
            }
        }
        $shifts = [];
        for ($i = 0, $n = count($starts) - 1; $i < $n; ++$i) {
            [$start, $number] = $starts[$i];
            $end = $starts[$i + 1][0];
            if ($end->isAfter($from) && $start->isBefore($to)) {
                $size = count($this->people);
                $shifts[] = new Shift(
                    $this->people[(($number % $size) + $size) % $size],
                    $this->people[((($number + 1) % $size) + $size) % $size],
                    $start,
                    $end,
                );
            }
        }
        \assert($shifts !== []);

        return $shifts;
    }
}
