<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Files;

use Olivine\App\Files\BadText;
use Olivine\App\Files\Words;
use Olivine\App\Roster\Definition\AbsenceDefinition;
use Olivine\App\Roster\Definition\CoverDefinition;
use Olivine\App\Roster\Definition\DutyHoursDefinition;
use Olivine\App\Roster\Definition\HandoverDefinition;

/** Parts of a roster as one says them, read: `weekly on mon 08:00`, `sat+sun 22:00-06:00`, `tomasz@… for ines@… from … to …`. */
final readonly class RosterTextReader
{
    private const TIME = '~\G\s*(\d{4}-\d\d-\d\d[ T]\d\d:\d\d)~';
    private const WEEK = 7;

    /** @throws BadText with the place where other words should stand */
    public static function change(string $text): HandoverDefinition
    {
        $words = new Words($text);
        $words->takes('~\G\s+~');
        if ($words->takes('~\Gdaily at\s+~')) {
            $change = new HandoverDefinition(1, 0, $words->times());
        } elseif ($words->takes('~\Gweekly on\s+~')) {
            $day = $words->day();
            $words->takes('~\G\s+at\b~');
            $change = new HandoverDefinition(self::WEEK, $day, [$words->clock('at which time')]);
        } elseif ($words->takes('~\Gevery\s+~')) {
            $days = (int) $words->word('~\G(\d{1,3})\b~', 'here comes a number of days');
            $words->takes('~\G\s+days?\s+at\b~') || $words->fail('here comes days at, such as every 4 days at 22:00');
            $change = new HandoverDefinition($days, 0, [$words->clock('at which time')]);
        } else {
            $words->fail('here comes daily at 08:00, weekly on mon 08:00, or every 4 days at 22:00');
        }
        $words->end('the end');

        return $change;
    }

    /** @throws BadText */
    public static function hours(string $text): DutyHoursDefinition
    {
        $words = new Words($text);
        $days = $words->takes('~\G\s*(?=[a-z])~') ? $words->days() : null;
        $from = $words->clock('from when');
        $words->takes('~\G\s*-\s*~') || $words->fail('here comes until when: -06:00');
        $to = $words->clock('until when');
        $words->end('the end');

        return new DutyHoursDefinition($from, $to, $days);
    }

    /** @throws BadText */
    public static function cover(string $text): CoverDefinition
    {
        $words = new Words($text);
        $words->takes('~\G\s+~');
        $person = $words->name('the address of whoever covers');
        $words->takes('~\G\s+for\s+~') || $words->fail('here comes for, and for whom');
        $for = $words->name('the address of the person it is for');
        [$from, $to] = self::span($words);

        return new CoverDefinition($person, $for, $from, $to);
    }

    /** @throws BadText */
    public static function absence(string $text): AbsenceDefinition
    {
        $words = new Words($text);
        $words->takes('~\G\s+~');
        $person = $words->name('the address of whoever is away');
        [$from, $to] = self::span($words);

        return new AbsenceDefinition($person, $from, $to);
    }

    /**
     * @return array{string, string}
     *
     * @throws BadText
     */
    private static function span(Words $words): array
    {
        $words->takes('~\G\s+from\b~') || $words->fail('here comes from, and since when');
        $from = $words->word(self::TIME, 'here comes a time such as 2026-11-28 10:00');
        $words->takes('~\G\s+to\b~') || $words->fail('here comes to, and until when');
        $to = $words->word(self::TIME, 'here comes a time such as 2026-11-28 18:00');
        $words->end('the end');

        return [str_replace('T', ' ', $from), str_replace('T', ' ', $to)];
    }
}
