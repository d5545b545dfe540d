<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Time\DailyTimes;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * How long an incident gathers alerts before the first message: for a while, or until the next of some set times of the day, for
 * what can wait until the morning round.
 *
 * Opened at 03:12:00, for 40 s: told at 03:12:40. Until 09:00 or 17:00: told at 09:00.
 */
final readonly class Gather
{
    private function __construct(public Duration $for, public ?DailyTimes $until)
    {
    }

    public static function lasting(Duration $for): self
    {
        return new self($for, null);
    }

    public static function until(DailyTimes $until): self
    {
        return new self(Duration::none(), $until);
    }

    /** When an incident that opened then is told first. */
    public function endsAt(Instant $openedAt): Instant
    {
        return $this->until?->from($openedAt) ?? $openedAt->plus($this->for);
    }

    /** When what was gathered before is told: at once, or at the next of the set times. */
    public function onceGathered(Instant $at): Instant
    {
        return $this->until?->from($at) ?? $at;
    }

    /** `for 40 s`, `until 09:00 or 17:00`. */
    public function words(): string
    {
        return $this->until === null ? "for {$this->for->words()}" : "until {$this->until->words()}";
    }
}
