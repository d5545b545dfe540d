<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Calendar;

/**
 * What a rule by which an entry comes again may say (RFC 5545, 3.3.10), so far as days and weeks need it: rules that no day ever fits
 * would be looked for without an end, so what could be one is refused.
 */
final readonly class RecurrenceRule
{
    private const MOST_INTERVAL = 99;
    private const DAYS_OF = [1 => 31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
    /** Each month has so many days. */
    private const ALWAYS_THERE = 28;
    private const PARTS = [
        'FREQ' => '~^(DAILY|WEEKLY|MONTHLY|YEARLY)$~',
        'COUNT' => '~^[1-9]\d{0,4}$~',
        'INTERVAL' => '~^[1-9]\d?$~',
        'UNTIL' => '~^\d{8}(T\d{6}Z?)?$~',
        'WKST' => '~^(MO|TU|WE|TH|FR|SA|SU)$~',
        'BYMONTH' => '~^(0?[1-9]|1[0-2])(,(0?[1-9]|1[0-2]))*$~',
        'BYMONTHDAY' => '~^-?(0?[1-9]|[12]\d|3[01])(,-?(0?[1-9]|[12]\d|3[01]))*$~',
        'BYDAY' => '~^[+-]?[1-4]?(MO|TU|WE|TH|FR|SA|SU)(,[+-]?[1-4]?(MO|TU|WE|TH|FR|SA|SU))*$~',
        'BYSETPOS' => '~^-?[1-4]$~',
    ];

    /** @throws BadCalendar where a day that fits it may never come, or it is not understood */
    public static function check(string $rule): void
    {
        $parts = [];
        foreach (explode(';', strtoupper(trim($rule, '; '))) as $part) {
            [$name, $value] = [...explode('=', $part, 2), ''];
            if (isset($parts[$name]) || !isset(self::PARTS[$name]) || preg_match(self::PARTS[$name], $value) !== 1) {
                throw self::refused($rule);
            }
            $parts[$name] = $value;
        }
        $interval = (int) ($parts['INTERVAL'] ?? 1);
        $picksDays = isset($parts['BYMONTHDAY']);
        $isOdd = !isset($parts['FREQ'])
            || $interval > self::MOST_INTERVAL
            || ($picksDays && (isset($parts['BYDAY']) || $parts['FREQ'] === 'WEEKLY'))
            || (isset($parts['BYSETPOS']) && (!isset($parts['BYDAY']) || preg_match('~\d~', $parts['BYDAY']) === 1))
            || ($interval > 1 && isset($parts['BYMONTH']) && $parts['FREQ'] !== 'YEARLY');
        if ($isOdd || ($picksDays && !self::everCome($parts['BYMONTHDAY'], $parts['BYMONTH'] ?? '', $interval))) {
            throw self::refused($rule);
        }
    }

    private static function everCome(string $days, string $months, int $interval): bool
    {
        $lowest = min(array_map(static fn(string $day): int => abs((int) $day), explode(',', $days)));
        $longest = $months === '' ? 31 : max(array_map(static fn(string $month): int => self::DAYS_OF[(int) $month] ?? 0, explode(',', $months)));

        return $lowest <= self::ALWAYS_THERE || ($interval === 1 && $lowest <= $longest);
    }

    private static function refused(string $rule): BadCalendar
    {
        return new BadCalendar('An entry comes again by a rule that is not understood: ' . mb_strcut(mb_scrub($rule), 0, 100));
    }
}
