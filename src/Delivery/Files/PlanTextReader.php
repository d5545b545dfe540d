<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Delivery\Definition\HoursDefinition;
use Olivine\App\Delivery\Definition\RungDefinition;
use Olivine\App\Delivery\Definition\StretchDefinition;
use Olivine\App\Delivery\Definition\WhoDefinition;
use Olivine\Core\Delivery\Listener;
use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Node\Number;
use Olivine\Core\Formula\Node\Unit;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Time\WeekHours;

/**
 * Parts of a plan as one says them, read: `on call and team "night desk" by e-mail, then 15m` is a rung that tells two, by mail, and
 * waits a quarter of an hour. What PlanText writes is read as the same again.
 */
final class PlanTextReader
{
    private const NAME = '~\G(?:"([^"\n]+)"|([^\s,"]+))~';

    private int $at = 0;

    private function __construct(private readonly string $text)
    {
    }

    /** @throws BadText with the place where other words should stand */
    public static function rung(string $text): RungDefinition
    {
        $reader = new self($text);
        $who = $reader->everybody();
        $by = $reader->channels();
        $after = $reader->takes('~\G\s*,\s*then\s+~') ? $reader->duration() : 0;
        $reader->end($by === [] ? 'and, by, “, then 15m”, or the end' : '“, then 15m”, or the end');

        return new RungDefinition($who, $by, $after);
    }

    /**
     * @return array{list<WhoDefinition>, list<string>} who, and by which channels
     *
     * @throws BadText
     */
    public static function receivers(string $text): array
    {
        $reader = new self($text);
        $who = $reader->takes('~\G\s*by\s~', true) ? [] : $reader->everybody();
        $by = $reader->channels();
        $reader->end('and, by, or the end');

        return [$who, $by];
    }

    /** @throws BadText */
    public static function hours(string $text): HoursDefinition
    {
        $reader = new self($text);
        $stretches = [];
        do {
            $days = $reader->days();
            $from = $reader->clock('from when');
            $reader->takes('~\G\s*-\s*~') || $reader->fail('here comes until when: -18:00');
            $stretches[] = new StretchDefinition($days, $from, $reader->clock('until when'));
        } while ($reader->takes('~\G\s*,\s*~'));
        $zone = $reader->word('~\G\s*([A-Za-z][\w+\-/]*)~', 'here comes on whose clocks, such as Europe/Lisbon');
        $off = [];
        if ($reader->takes('~\G\s+except\s+~')) {
            do {
                $off[] = $reader->word('~\G\s*(holidays\b|(?:\d{4}-)?\d\d-\d\d)~', 'here comes a day such as 2026-12-24, 12-25 for each year, or holidays');
            } while ($reader->takes('~\G\s*,\s*~'));
        }
        $reader->end('except, or the end');

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
        $reader = new self($text);
        $times = [];
        do {
            $times[] = $reader->clock('a time of the day');
        } while ($reader->takes('~\G\s*(?:,|\bor\b|\band\b)\s*~'));
        $reader->end('or, or the end');

        return $times;
    }

    /**
     * @return int seconds
     *
     * @throws BadText
     */
    public static function seconds(string $text): int
    {
        $reader = new self($text);
        $seconds = $reader->duration();
        $reader->end('the end');

        return $seconds;
    }

    /**
     * @return list<WhoDefinition>
     *
     * @throws BadText
     */
    private function everybody(): array
    {
        $who = [];
        do {
            $who[] = $this->one();
        } while ($this->takes('~\G\s+and\s+~'));

        return $who;
    }

    /** @throws BadText */
    private function one(): WhoDefinition
    {
        $this->takes('~\G\s*~');

        return match (true) {
            $this->takes('~\Gon call\b~') => new WhoDefinition(Listener::OnCall),
            $this->takes('~\Gnext on call\b~') => new WhoDefinition(Listener::NextOnRoster),
            $this->takes('~\Gowner\b~') => new WhoDefinition(Listener::Owner),
            $this->takes('~\Gperson\s+~') => new WhoDefinition(Listener::Person, $this->name('the address of a person')),
            $this->takes('~\Gteam\s+~') => new WhoDefinition(Listener::Team, $this->name('the name of a team')),
            $this->takes('~\Grole\s+~') => new WhoDefinition(Listener::Role, $this->name('a role')),
            default => $this->fail('here comes who is told: on call, next on call, owner, person …, team … or role …'),
        };
    }

    /**
     * @return list<string>
     *
     * @throws BadText
     */
    private function channels(): array
    {
        $by = [];
        if ($this->takes('~\G\s*by\s+~')) {
            do {
                $by[] = $this->name('a channel');
            } while ($this->takes('~\G\s+and\s+~'));
        }

        return $by;
    }

    /** @throws BadText */
    private function name(string $what): string
    {
        if (preg_match(self::NAME, $this->text, $part, 0, $this->at) !== 1) {
            $this->fail("here comes {$what}; one with blanks stands in quotes");
        }
        $this->at += strlen($part[0]);

        return $part[1] === '' ? $part[2] ?? '' : $part[1];
    }

    /**
     * @return list<int>
     *
     * @throws BadText
     */
    private function days(): array
    {
        $days = [];
        do {
            $from = $this->day();
            $to = $this->takes('~\G-(?=[a-z])~') ? $this->day() : $from;
            array_push($days, ...($to < $from ? [...range($from, 7), ...range(1, $to)] : range($from, $to)));
        } while ($this->takes('~\G\s*[,+]\s*(?=[a-z])~'));
        $this->takes('~\G\s+~');

        return array_values(array_unique($days));
    }

    /** @throws BadText */
    private function day(): int
    {
        $word = $this->word('~\G\s*(' . implode('|', WeekHours::DAYS) . ')\b~', 'here comes a day: ' . implode(', ', WeekHours::DAYS));

        return 1 + (int) array_search($word, WeekHours::DAYS, true);
    }

    /** @throws BadText */
    private function clock(string $what): string
    {
        return $this->word('~\G\s*((?:[01]\d|2[0-4]):[0-5]\d)~', "here comes {$what}, such as 08:00");
    }

    /** @throws BadText */
    private function duration(): int
    {
        $word = $this->word('~\G\s*([\dA-Za-z.]+)~', 'here comes how long, such as 15m');
        try {
            $number = Parser::parse($word);
        } catch (FormulaError) {
            $number = null;
        }
        if ($number instanceof Number && ($number->unit === Unit::Seconds || $number->value === 0.0)) {
            return (int) round($number->value);
        }
        $this->at -= strlen($word);
        $this->fail('here comes how long, such as 15m');
    }

    /** @throws BadText */
    private function word(string $pattern, string $fault): string
    {
        if (preg_match($pattern, $this->text, $part, 0, $this->at) !== 1) {
            $this->fail($fault);
        }
        $this->at += strlen($part[0]);

        return $part[1] ?? '';
    }

    /** @phpstan-impure */
    private function takes(string $pattern, bool $onlyLooks = false): bool
    {
        if (preg_match($pattern, $this->text, $part, 0, $this->at) !== 1) {
            return false;
        }
        $this->at += $onlyLooks ? 0 : strlen($part[0]);

        return true;
    }

    /** @throws BadText */
    private function end(string $expected): void
    {
        $this->takes('~\G\s+~');
        if ($this->at < strlen($this->text)) {
            $this->fail("here comes {$expected}");
        }
    }

    /** @throws BadText */
    private function fail(string $message): never
    {
        throw new BadText($this->at, $message);
    }
}
