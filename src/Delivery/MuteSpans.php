<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Entity\KeptMute;
use Olivine\App\Roster\Calendar\BadCalendar;
use Olivine\App\Roster\Calendar\RecurrenceRule;
use Olivine\Core\Time\Instant;
use Olivine\Core\Time\WallTimes;
use Sabre\VObject\InvalidDataException;
use Sabre\VObject\Recur\RRuleIterator;

/**
 * When a mute hushes. What comes again does so on days that a rule of RFC 5545 names, from and to the same times on the clocks of its
 * zone: a time that does not exist moves forward, one that exists twice means the first.
 *
 * Each Sunday from 01:00 to 03:00 in Lisbon: on 25 October 2026, when the clocks go back at 02:00, for three hours; on 29 March 2026,
 * when there is no 01:00, from 02:00 on for one.
 */
final readonly class MuteSpans
{
    private const MOST = 2_000;
    private const MOST_LOOKED_THROUGH = 50_000;
    private const DAY_SECONDS = 86_400;

    /**
     * @return list<array{Instant, Instant}> that touch [from, to), in the order of time
     *
     * @throws BadCalendar where its rule is not understood
     */
    public static function of(KeptMute $mute, Instant $from, Instant $to): array
    {
        $last = $mute->endedAt;
        $spans = $mute->recurs === '' ? [[$mute->fromAt, $mute->toAt]] : self::recurring($mute, $from, $last?->earlier($to) ?? $to);
        $kept = [];
        foreach ($spans as [$begins, $ends]) {
            $ends = $last?->earlier($ends) ?? $ends;
            // It hushes nothing before it was set.
            $begins = $begins->later($mute->at);
            if ($begins->isBefore($ends) && $begins->isBefore($to) && $ends->isAfter($from)) {
                $kept[] = [$begins, $ends];
            }
        }

        return $kept;
    }

    /**
     * @return list<array{Instant, Instant}> those that touch one another are one
     *
     * @throws BadCalendar
     */
    private static function recurring(KeptMute $mute, Instant $from, Instant $to): array
    {
        RecurrenceRule::check($mute->recurs);
        $zone = new \DateTimeZone($mute->zone);
        $wall = new WallTimes($zone);
        $begin = $wall->dayOf($mute->fromAt);
        $beginMinute = self::minute($mute->fromAt, $zone);
        $endMinute = 1_440 * ($wall->dayOf($mute->toAt) - $begin) + self::minute($mute->toAt, $zone);
        $spans = [];
        $open = null;
        foreach (self::days($mute->recurs, $begin, $wall->dayOf($from) - intdiv($endMinute, 1_440) - 1, $wall->dayOf($to) + 1) as $day) {
            $begins = Instant::ofMs($wall->at($day, $beginMinute));
            $ends = Instant::ofMs($wall->at($day + intdiv($endMinute, 1_440), $endMinute % 1_440));
            if ($open !== null && !$begins->isAfter($open[1])) {
                $open = [$open[0], $open[1]->later($ends)];
                continue;
            }
            $spans = $open === null ? $spans : [...$spans, $open];
            $open = [$begins, $ends];
        }

        return $open === null ? $spans : [...$spans, $open];
    }

    /**
     * The clocks of a day are put on afterwards: a rule names days.
     *
     * @return list<int> days since 1 January 1970
     *
     * @throws BadCalendar
     */
    private static function days(string $rule, int $begin, int $from, int $to): array
    {
        $utc = new \DateTimeZone('UTC');
        $begin += self::passedOver($rule, $begin, $from);
        $first = (new \DateTimeImmutable('@' . $begin * self::DAY_SECONDS))->setTimezone($utc);
        try {
            $iterator = new RRuleIterator($rule, $first);
        } catch (InvalidDataException $error) {
            throw new BadCalendar("It cannot come again by the rule {$rule}", 0, $error);
        }
        $days = [];
        for ($looked = 0; $iterator->valid() && $looked < self::MOST_LOOKED_THROUGH && count($days) < self::MOST; ++$looked) {
            $comes = $iterator->current();
            $day = $comes instanceof \DateTimeInterface ? intdiv($comes->getTimestamp(), self::DAY_SECONDS) : PHP_INT_MAX;
            if ($day > $to) {
                break;
            }
            if ($day >= $from) {
                $days[] = $day;
            }
            $iterator->next();
        }

        return $days;
    }

    /**
     * A window that has come for years is not looked through from its first day on, where its rule says the same from any later one.
     *
     * @return int days, a whole number of its intervals, to a day not after $from
     */
    private static function passedOver(string $rule, int $begin, int $from): int
    {
        $rule = strtoupper($rule);
        $each = preg_match('~FREQ=(DAILY|WEEKLY)~', $rule, $part) === 1 && preg_match('~COUNT|UNTIL|BYSETPOS|BYMONTH~', $rule) === 0
            ? ($part[1] === 'DAILY' ? 1 : 7) * (int) (preg_match('~INTERVAL=(\d+)~', $rule, $of) === 1 ? $of[1] : 1)
            : 0;

        return $each === 0 ? 0 : max(0, intdiv($from - $begin, $each) - 1) * $each;
    }

    private static function minute(Instant $at, \DateTimeZone $zone): int
    {
        $shown = $at->in($zone);

        return 60 * (int) $shown->format('G') + (int) $shown->format('i');
    }
}
