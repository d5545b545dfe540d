<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** What a condition says of one label set at one instant, and by which numbers. */
final readonly class Verdict
{
    /**
     * @param Severity|null        $severity of an alert that is past; where it is in between, of one that is raised still
     * @param float|null           $value    that was judged
     * @param array<string, float> $numbers  beside it, by what they are: what is usual, how far it is from that …
     * @param string               $who      of a group, who of it is past
     * @param string               $why      where nobody can tell, and it is not for want of readings: in words
     */
    private function __construct(
        public Standing $standing,
        public ?float $value,
        public ?Severity $severity,
        public array $numbers,
        public string $who,
        public string $why,
        public Memory $memory,
    ) {
    }

    /** @param array<string, float> $numbers */
    public static function past(
        ?float $value,
        Severity $severity,
        array $numbers = [],
        Memory $memory = new Memory(),
        string $who = '',
    ): self {
        return new self(Standing::Past, $value, $severity, $numbers, $who, '', $memory);
    }

    /** @param array<string, float> $numbers */
    public static function between(?float $value, Severity $severity, array $numbers = [], Memory $memory = new Memory()): self
    {
        return new self(Standing::Between, $value, $severity, $numbers, '', '', $memory);
    }

    /** @param array<string, float> $numbers */
    public static function back(?float $value, array $numbers = [], Memory $memory = new Memory()): self
    {
        return new self(Standing::Back, $value, null, $numbers, '', '', $memory);
    }

    public static function unknown(string $why, Memory $memory = new Memory()): self
    {
        return new self(Standing::Unknown, null, null, [], '', $why, $memory);
    }

    public function isPast(): bool
    {
        return $this->standing === Standing::Past;
    }

    public function isBack(): bool
    {
        return $this->standing === Standing::Back;
    }
}
