<?php

declare(strict_types=1);

namespace Olivine\Core\Time;

/** How long something lasts, as time goes by: a day of it is 24 hours, whatever the clocks on the wall do. */
final readonly class Duration
{
    private const SECOND_MS = 1_000;
    private const MINUTE_MS = 60_000;
    private const HOUR_MS = 3_600_000;
    private const DAY_MS = 86_400_000;

    private function __construct(public int $ms)
    {
    }

    public static function ofMs(int $ms): self
    {
        return new self($ms);
    }

    public static function ofSeconds(int $seconds): self
    {
        return new self($seconds * self::SECOND_MS);
    }

    public static function ofMinutes(int $minutes): self
    {
        return new self($minutes * self::MINUTE_MS);
    }

    public static function ofHours(int $hours): self
    {
        return new self($hours * self::HOUR_MS);
    }

    public static function ofDays(int $days): self
    {
        return new self($days * self::DAY_MS);
    }

    public static function none(): self
    {
        return new self(0);
    }

    public function isNone(): bool
    {
        return $this->ms === 0;
    }

    public function isLongerThan(self $other): bool
    {
        return $this->ms > $other->ms;
    }

    public function isAtLeast(self $other): bool
    {
        return $this->ms >= $other->ms;
    }

    public function plus(self $other): self
    {
        return new self($this->ms + $other->ms);
    }

    public function times(int $count): self
    {
        return new self($count * $this->ms);
    }

    /** How many whole steps of the other fit into it. */
    public function steps(self $step): int
    {
        return intdiv($this->ms, $step->ms);
    }

    /** Whole seconds; what is left of one is left out. */
    public function seconds(): int
    {
        return intdiv($this->ms, self::SECOND_MS);
    }

    /** `6 min`, `25 h 1 min`, `3 d`: two units at most, as one would say it. */
    public function words(): string
    {
        $seconds = $this->seconds();
        if ($seconds < 60) {
            return "{$seconds} s";
        }
        $minutes = intdiv($seconds, 60);
        if ($minutes < 60) {
            return $seconds % 60 === 0 || $minutes >= 10 ? "{$minutes} min" : sprintf('%d min %d s', $minutes, $seconds % 60);
        }
        $hours = intdiv($minutes, 60);
        if ($hours < 48) {
            return $minutes % 60 === 0 ? "{$hours} h" : sprintf('%d h %d min', $hours, $minutes % 60);
        }

        return $hours % 24 === 0 ? intdiv($hours, 24) . ' d' : sprintf('%d d %d h', intdiv($hours, 24), $hours % 24);
    }
}
