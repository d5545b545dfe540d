<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** All that is remembered of an alert from one instant to the next. It changes only where something happens. */
final readonly class AlertState
{
    /**
     * @param int           $sinceMs        when the phase began
     * @param int|null      $onsetMs        when the condition became true in the present spell
     * @param Severity|null $severity       of the present raise, the worst it reached
     * @param int|null      $missingSinceMs the first instant without a value, while there is none
     * @param bool          $raisedBefore   blind only: it was raised when sight of it was lost
     */
    public function __construct(
        public Phase $phase,
        public int $sinceMs,
        public ?int $onsetMs = null,
        public ?Severity $severity = null,
        public ?int $missingSinceMs = null,
        public bool $raisedBefore = false,
    ) {
    }

    public static function calm(int $sinceMs): self
    {
        return new self(Phase::Calm, $sinceMs);
    }
}
