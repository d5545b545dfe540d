<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Platform\Clock;
use Olivine\App\Platform\HeldSlots;
use Olivine\App\Platform\PartName;
use Olivine\App\Platform\PartWork;
use Olivine\Core\Time\Duration;
use Olivine\Core\Time\Instant;

/**
 * Turns transitions into incidents, and incidents into planned messages. Which alerts belong together is seen by one only: who
 * holds the first slot.
 */
final class Dispatcher implements PartWork
{
    /** A rule that could not be evaluated for so long is told to whoever is on call. */
    private const TOLD_AFTER_MINUTES = 5;
    private const PROBLEMS_EVERY_MS = 2_000;
    private const NOBODY_THERE_SECONDS = 10;

    private HeldSlots $slots;
    private ?Instant $problemsAt = null;
    /** @var list<int> incidents whose rung reached nobody */
    private array $waiting = [];
    /** When it is looked at again whether it does by now. */
    private Instant $lookAgainAt;
    private float $taken = 0.0;

    public function __construct(
        private readonly IncidentBook $book,
        private readonly Courses $courses,
        private readonly Rehearsals $rehearsals,
        private readonly Clock $clock = new Clock(),
    ) {
        $this->slots = HeldSlots::none(PartName::Dispatcher);
        $this->lookAgainAt = Instant::ofMs(0);
    }

    public function hold(HeldSlots $slots): void
    {
        $this->slots = $slots;
    }

    public function round(): int
    {
        $now = $this->clock->now();
        // Which alerts belong together is seen by one only; whom they reach, rung by rung, is shared.
        $taken = $this->slots->hasFirst() ? $this->bringUpIncidents($now) : 0;
        if (!$now->isBefore($this->lookAgainAt)) {
            $this->waiting = [];
            $this->lookAgainAt = $now->plus(Duration::ofSeconds(self::NOBODY_THERE_SECONDS));
        }
        array_push($this->waiting, ...$this->courses->letTimePass($this->clock->now(), $this->slots, $this->waiting));

        return $taken > 0 ? 0 : 150;
    }

    public function figures(): array
    {
        return ['olivine_transitions_taken_total' => $this->taken];
    }

    /** @return int how many transitions were taken */
    private function bringUpIncidents(Instant $now): int
    {
        $taken = $this->book->takeTransitions(TakeMode::Live);
        $this->taken += $taken;
        if ($this->problemsAt === null || !$now->isBefore($this->problemsAt)) {
            $this->book->takeProblems($now, Duration::ofMinutes(self::TOLD_AFTER_MINUTES));
            $this->rehearsals->watch($this->clock->now());
            $this->problemsAt = $now->plus(Duration::ofMs(self::PROBLEMS_EVERY_MS));
        }

        return $taken;
    }
}
