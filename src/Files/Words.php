<?php

declare(strict_types=1);

namespace Olivine\App\Files;

use Olivine\Core\Formula\FormulaError;
use Olivine\Core\Formula\Node\Number;
use Olivine\Core\Formula\Node\Unit;
use Olivine\Core\Formula\Parser;
use Olivine\Core\Time\WeekHours;

/** Words of a value, read from left to right: names, days, times of the day, durations, and what should stand where they end. */
final class Words
{
    private const NAME = '~\G(?:"([^"\n]+)"|([^\s,"]+))~';

    private int $at = 0;

    public function __construct(private readonly string $text)
    {
    }

    /** @throws BadText */
    public function name(string $what): string
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
    public function days(): array
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

    /**
     * @return int 1 to 7, Monday first
     *
     * @throws BadText
     */
    public function day(): int
    {
        $word = $this->word('~\G\s*(' . implode('|', WeekHours::DAYS) . ')\b~', 'here comes a day: ' . implode(', ', WeekHours::DAYS));

        return 1 + (int) array_search($word, WeekHours::DAYS, true);
    }

    /** @throws BadText */
    public function clock(string $what): string
    {
        return $this->word('~\G\s*((?:[01]\d|2[0-4]):[0-5]\d)~', "here comes {$what}, such as 08:00");
    }

    /**
     * Some times of the day, with or, and, or a comma between.
     *
     * @return list<string> `09:00`
     *
     * @throws BadText
     */
    public function times(): array
    {
        $times = [];
        do {
            $times[] = $this->clock('a time of the day');
        } while ($this->takes('~\G\s*(?:,|\bor\b|\band\b)\s*~'));

        return $times;
    }

    /** @throws BadText */
    public function duration(): int
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
    public function word(string $pattern, string $fault): string
    {
        if (preg_match($pattern, $this->text, $part, 0, $this->at) !== 1) {
            $this->fail($fault);
        }
        $this->at += strlen($part[0]);

        return $part[1] ?? '';
    }

    /** @phpstan-impure */
    public function takes(string $pattern, bool $onlyLooks = false): bool
    {
        if (preg_match($pattern, $this->text, $part, 0, $this->at) !== 1) {
            return false;
        }
        $this->at += $onlyLooks ? 0 : strlen($part[0]);

        return true;
    }

    /** @throws BadText */
    public function end(string $expected): void
    {
        $this->takes('~\G\s+~');
        if ($this->at < strlen($this->text)) {
            $this->fail("here comes {$expected}");
        }
    }

    /** @throws BadText */
    public function fail(string $message): never
    {
        throw new BadText($this->at, $message);
    }
}
