<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

/**
 * How late a target is used to bring readings that carry times of their own, and up to which instant rules may look at them.
 *
 * Rules look at an instant once: what arrives for it afterwards they have not seen. So they wait for as long as the target
 * took at most in the hour before last and since, and a second more. By example, readings of 12:00:00 that use to arrive by
 * 12:00:40 are looked at from 12:00:41 on. One that arrives at 12:03:00 comes after the rules had looked, at 12:02:18; it is
 * seen from the next instant on, 12:02:19, by whatever reaches back so far, and a replay of what was does the same.
 *
 * Invariant: through never falls, and whatever arrives is seen from its own time or from an instant after through.
 */
final readonly class Punctuality
{
    /** Who comes later than this is late; waiting for it would make every alarm late. */
    public const LONGEST_MS = 900_000;
    private const HOUR_MS = 3_600_000;
    private const MARGIN_MS = 1_000;

    /**
     * @param int $throughMs rules may have looked at every instant up to this one
     * @param int $hourAtMs  when the present hour of watching began
     * @param int $worstMs   how late it came at most in the present hour
     * @param int $beforeMs  and in the hour before
     */
    public function __construct(
        public int $throughMs,
        public int $hourAtMs = 0,
        public int $worstMs = 0,
        public int $beforeMs = 0,
    ) {
    }

    /** @return int how long rules wait for this target's readings */
    public function delayMs(): int
    {
        return max($this->worstMs, $this->beforeMs) + self::MARGIN_MS;
    }

    /** @return int from which instant on rules see a reading that arrives now; its own time where they had not looked yet */
    public function seenFrom(int $readingAtMs): int
    {
        return $readingAtMs > $this->throughMs ? $readingAtMs : $this->throughMs + 1;
    }

    /** @param int $lateMs how long after its time a reading arrived */
    public function learned(int $nowMs, int $lateMs): self
    {
        [$hourAt, $worst, $before] = [$this->hourAtMs, $this->worstMs, $this->beforeMs];
        if ($nowMs - $hourAt >= self::HOUR_MS) {
            $before = $nowMs - $hourAt < 2 * self::HOUR_MS ? $worst : 0;
            [$hourAt, $worst] = [$nowMs, 0];
        }

        return new self($this->throughMs, $hourAt, $lateMs > self::LONGEST_MS ? $worst : max($worst, $lateMs), $before);
    }

    /** Everything that arrived until now is there, so rules may look on. */
    public function settled(int $nowMs): self
    {
        return new self(max($this->throughMs, $nowMs - $this->delayMs()), $this->hourAtMs, $this->worstMs, $this->beforeMs);
    }

    /** Rules went by the clock alone meanwhile. */
    public function lookedThrough(int $atMs): self
    {
        return new self(max($this->throughMs, $atMs), $this->hourAtMs, $this->worstMs, $this->beforeMs);
    }
}
