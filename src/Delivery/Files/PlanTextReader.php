<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Delivery\Definition\HoursDefinition;
use Olivine\App\Delivery\Definition\RungDefinition;
use Olivine\App\Delivery\Definition\StretchDefinition;
use Olivine\App\Delivery\Definition\WhoDefinition;
use Olivine\App\Files\BadText;
use Olivine\App\Files\Words;
use Olivine\Core\Delivery\Listener;

/**
 * Parts of a plan as one says them, read: `on call and team "night desk" by e-mail, then 15m` is a rung that tells two, by mail, and
 * waits a quarter of an hour. What PlanText writes is read as the same again.
 */
final readonly class PlanTextReader
{
    /** @throws BadText with the place where other words should stand */
    public static function rung(string $text): RungDefinition
    {
        $words = new Words($text);
        $who = self::everybody($words);
        $by = self::channels($words);
        $after = $words->takes('~\G\s*,\s*then\s+~') ? $words->duration() : 0;
        $words->end($by === [] ? 'and, by, “, then 15m”, or the end' : '“, then 15m”, or the end');

        return new RungDefinition($who, $by, $after);
    }

    /**
     * @return array{list<WhoDefinition>, list<string>} who, and by which channels
     *
     * @throws BadText
     */
    public static function receivers(string $text): array
    {
        $words = new Words($text);
        $who = $words->takes('~\G\s*by\s~', true) ? [] : self::everybody($words);
        $by = self::channels($words);
        $words->end('and, by, or the end');

        return [$who, $by];
    }

    /** @throws BadText */
    public static function hours(string $text): HoursDefinition
    {
        $words = new Words($text);
        $stretches = [];
        do {
            $days = $words->days();
            $from = $words->clock('from when');
            $words->takes('~\G\s*-\s*~') || $words->fail('here comes until when: -18:00');
            $stretches[] = new StretchDefinition($days, $from, $words->clock('until when'));
        } while ($words->takes('~\G\s*,\s*~'));
        $zone = $words->word('~\G\s*([A-Za-z][\w+\-/]*)~', 'here comes on whose clocks, such as Europe/Lisbon');
        $off = [];
        if ($words->takes('~\G\s+except\s+~')) {
            do {
                $off[] = $words->word('~\G\s*(holidays\b|(?:\d{4}-)?\d\d-\d\d)~', 'here comes a day such as 2026-12-24, 12-25 for each year, or holidays');
            } while ($words->takes('~\G\s*,\s*~'));
        }
        $words->end('except, or the end');

        return new HoursDefinition($stretches, $zone, $off);
    }

    /**
     * @param string $text that begins with `until `
     *
     * @return list<string> `09:00`
     *
     * @throws BadText
     */
    public static function untilTimes(string $text): array
    {
        return self::times(substr($text, strlen('until ')));
    }

    /**
     * @return list<string> `09:00`
     *
     * @throws BadText
     */
    public static function times(string $text): array
    {
        $words = new Words($text);
        $times = $words->times();
        $words->end('or, or the end');

        return $times;
    }

    /**
     * @return int seconds
     *
     * @throws BadText
     */
    public static function seconds(string $text): int
    {
        $words = new Words($text);
        $seconds = $words->duration();
        $words->end('the end');

        return $seconds;
    }

    /**
     * @return list<WhoDefinition>
     *
     * @throws BadText
     */
    private static function everybody(Words $words): array
    {
        $who = [];
        do {
            $who[] = self::one($words);
        } while ($words->takes('~\G\s+and\s+~'));

        return $who;
    }

    /** @throws BadText */
    private static function one(Words $words): WhoDefinition
    {
        $words->takes('~\G\s*~');

        return match (true) {
            $words->takes('~\Gon call\b~') => new WhoDefinition(Listener::OnCall),
            $words->takes('~\Gnext on call\b~') => new WhoDefinition(Listener::NextOnRoster),
            $words->takes('~\Groster\s+~') => new WhoDefinition(Listener::OnCall, $words->name('the name of a roster')),
            $words->takes('~\Gnext on roster\s+~') => new WhoDefinition(Listener::NextOnRoster, $words->name('the name of a roster')),
            $words->takes('~\Gowner\b~') => new WhoDefinition(Listener::Owner),
            $words->takes('~\Gperson\s+~') => new WhoDefinition(Listener::Person, $words->name('the address of a person')),
            $words->takes('~\Gteam\s+~') => new WhoDefinition(Listener::Team, $words->name('the name of a team')),
            $words->takes('~\Grole\s+~') => new WhoDefinition(Listener::Role, $words->name('a role')),
            default => $words->fail('here comes who is told: on call, next on call, roster …, next on roster …, owner, person …, team … or role …'),
        };
    }

    /**
     * @return list<string>
     *
     * @throws BadText
     */
    private static function channels(Words $words): array
    {
        $by = [];
        if ($words->takes('~\G\s*by\s+~')) {
            do {
                $by[] = $words->name('a channel');
            } while ($words->takes('~\G\s+and\s+~'));
        }

        return $by;
    }
}
