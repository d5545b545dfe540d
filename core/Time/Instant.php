<?php

declare(strict_types=1);

namespace Olivine\Core\Time;

/**
 * A point in time, to the millisecond, by UTC. Where clocks on a wall count, it is seen in a zone; two instants are
 * always as far apart as time really went by, whatever the clocks did meanwhile.
 */
final readonly class Instant implements \JsonSerializable
{
    private function __construct(public int $ms)
    {
    }

    /** @param int $ms since 1970-01-01T00:00:00Z */
    public static function ofMs(int $ms): self
    {
        return new self($ms);
    }

    public static function of(\DateTimeInterface $moment): self
    {
        return new self(1000 * $moment->getTimestamp() + (int) $moment->format('v'));
    }

    public function plus(Duration $duration): self
    {
        return new self($this->ms + $duration->ms);
    }

    public function minus(Duration $duration): self
    {
        return new self($this->ms - $duration->ms);
    }

    /** From the other one to this one; below zero where the other one is later. */
    public function since(self $other): Duration
    {
        return Duration::ofMs($this->ms - $other->ms);
    }

    public function isBefore(self $other): bool
    {
        return $this->ms < $other->ms;
    }

    public function isAfter(self $other): bool
    {
        return $this->ms > $other->ms;
    }

    public function later(self $other): self
    {
        return $this->ms >= $other->ms ? $this : $other;
    }

    public function earlier(self $other): self
    {
        return $this->ms <= $other->ms ? $this : $other;
    }

    /** The last whole multiple of the step that is not after it: 10:00:07 with a step of 15 s is 10:00:00. */
    public function onStep(Duration $step): self
    {
        return new self($this->ms - ($this->ms % $step->ms));
    }

    /** What the calendar and the clock on the wall show there. */
    public function in(\DateTimeZone $zone): \DateTimeImmutable
    {
        $seconds = intdiv($this->ms, 1000) - ($this->ms % 1000 < 0 ? 1 : 0);

        return (new \DateTimeImmutable("@{$seconds}"))
            ->setTimezone($zone)
            ->modify(sprintf('+%d ms', $this->ms - $seconds * 1000));
    }

    /** To others it is the milliseconds since 1970-01-01T00:00:00Z. */
    public function jsonSerialize(): int
    {
        return $this->ms;
    }
}
