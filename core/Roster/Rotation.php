<?php

declare(strict_types=1);

namespace Olivine\Core\Roster;

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

    public function at(int $atMs): Shift
    {
        return $this->between($atMs, $atMs + 1)[0];
    }

    /** @return non-empty-list<Shift> every shift that touches `[fromMs, toMs)` */
    public function between(int $fromMs, int $toMs): array
    {
        $anchor = new \DateTimeImmutable($this->anchorDay, $this->zone);
        $day = (new \DateTimeImmutable('@' . intdiv($fromMs, 1000)))->setTimezone($this->zone)->modify('-1 day')->setTime(0, 0);
        $days = (int) round(($day->getTimestamp() - $anchor->getTimestamp()) / 86_400);
        $starts = [];
        for ($past = false; !$past; ++$days) {
            $day = $anchor->modify("{$days} days");
            foreach ($this->hours as $i => $hour) {
                $startMs = $day->setTime($hour, 0)->getTimestamp() * 1000;
                $starts[] = [$startMs, $days * count($this->hours) + $i];
                $past = $past || $startMs >= $toMs;
            }
        }
        $shifts = [];
        for ($i = 0, $n = count($starts) - 1; $i < $n; ++$i) {
            [$startMs, $number] = $starts[$i];
            $endMs = $starts[$i + 1][0];
            if ($endMs > $fromMs && $startMs < $toMs) {
                $size = count($this->people);
                $shifts[] = new Shift(
                    $this->people[(($number % $size) + $size) % $size],
                    $this->people[((($number + 1) % $size) + $size) % $size],
                    $startMs,
                    $endMs,
                );
            }
        }
        \assert($shifts !== []);

        return $shifts;
    }
}
