<?php

declare(strict_types=1);

namespace Olivine\Core\Time;

/**
 * Hours of a week on the clocks of a zone, with days that are none: from Monday to Friday 08:00 to 18:00 in Lisbon, not on
 * 25 December. Hours that go on after midnight belong to the day on which they begin.
 *
 * A stretch lies between two instants: a begin that the clocks leave out moves forward by as much, one that they show twice is the
 * first; where the end is then not after it there is none. By example, 01:30 to 03:00 each day in Lisbon is half an hour longer than
 * the clocks say in the night in which they show 01:00 to 02:00 twice, and from 02:30 on in the night that leaves that hour out.
 */
final readonly class WeekHours
{
    public const DAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'];
    private const DAY_MINUTES = 1_440;

    /** @var array<string, true> */
    private array $isOff;

    /**
     * @param list<array{non-empty-list<int>, int, int}> $stretches days (1 to 7, Monday first), and from and to in minutes of the day; a to
     *                                                              that is not after the from is of the next day
     * @param list<string>                               $daysOff   `2026-12-25`, or `12-25` for each year: no hours begin there
     */
    public function __construct(public array $stretches, public \DateTimeZone $zone, public array $daysOff = [])
    {
        $this->isOff = array_fill_keys($daysOff, true);
    }

    public function covers(Instant $at): bool
    {
        return array_any($this->touching($at, $at), static fn(array $one): bool => !$one[0]->isAfter($at) && $one[1]->isAfter($at));
    }

    /** @return list<array{Instant, Instant}> maximal spans `[from, to)` within the given one, in the order of time */
    public function between(Instant $from, Instant $to): array
    {
        $found = $this->touching($from, $to);
        usort($found, static fn(array $a, array $b): int => $a[0]->ms <=> $b[0]->ms);
        $spans = [];
        $open = null;
        foreach ($found as [$begin, $end]) {
            [$begin, $end] = [$begin->later($from), $end->earlier($to)];
            if ($open !== null && !$begin->isAfter($open[1])) {
                $open[1] = $open[1]->later($end);
            } elseif ($end->isAfter($begin)) {
                $spans = $open === null ? $spans : [...$spans, $open];
                $open = [$begin, $end];
            }
        }

        return $open === null ? $spans : [...$spans, $open];
    }

    /** `mon-fri 08:00-18:00, sat 09:00-13:00 Europe/Lisbon except 12-25`. */
    public function words(): string
    {
        $words = array_map(
            static fn(array $one): string => self::dayWords($one[0]) . ' ' . self::clock($one[1]) . '-' . self::clock($one[2]),
            $this->stretches,
        );

        $except = $this->daysOff === [] ? '' : ' except ' . implode(', ', $this->daysOff);

        return implode(', ', $words) . ' ' . $this->zone->getName() . $except;
    }

    /** @return list<array{Instant, Instant}> of the days around the span, and maybe some beyond it */
    private function touching(Instant $from, Instant $to): array
    {
        $found = [];
        $last = $to->in($this->zone)->setTime(0, 0);
        for ($day = $from->in($this->zone)->setTime(0, 0)->modify('-1 day'); $day <= $last; $day = $day->modify('+1 day')) {
            if (isset($this->isOff[$day->format('Y-m-d')]) || isset($this->isOff[$day->format('m-d')])) {
                continue;
            }
            foreach ($this->stretches as [$days, $begin, $end]) {
                $one = in_array((int) $day->format('N'), $days, true) ? self::onDay($day, $begin, $end) : null;
                if ($one !== null) {
                    $found[] = $one;
                }
            }
        }

        return $found;
    }

    /** @return array{Instant, Instant}|null */
    private static function onDay(\DateTimeImmutable $day, int $begin, int $end): ?array
    {
        $from = Instant::of($day->setTime(intdiv($begin, 60), $begin % 60));
        $endDay = $end <= $begin || $end === self::DAY_MINUTES ? $day->modify('+1 day') : $day;
        $minute = $end % self::DAY_MINUTES;
        $to = Instant::of($endDay->setTime(intdiv($minute, 60), $minute % 60));

        return $to->isAfter($from) ? [$from, $to] : null;
    }

    /**
     * `mon-fri`, `sat+sun`.
     *
     * @param non-empty-list<int> $days Monday is 1
     */
    public static function dayWords(array $days): string
    {
        $words = [];
        foreach ($days as $day) {
            $isFirst = !in_array($day - 1, $days, true);
            $isLast = !in_array($day + 1, $days, true);
            $words[] = ($isFirst ? self::DAYS[$day - 1] : '') . (!$isFirst && $isLast ? '-' . self::DAYS[$day - 1] : '') . ($isLast ? '+' : '');
        }

        return rtrim(implode('', $words), '+');
    }

    private static function clock(int $minute): string
    {
        return sprintf('%02d:%02d', intdiv($minute, 60), $minute % 60);
    }
}
