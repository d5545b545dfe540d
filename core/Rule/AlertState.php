<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Instant;

/** All that is remembered of an alert from one instant to the next. It changes only where something happens. */
final readonly class AlertState
{
    /**
     * @param Instant       $since        when the phase began
     * @param Instant|null  $onset        when the condition became true in the present spell
     * @param Severity|null $severity     of the present raise, the worst it reached
     * @param Instant|null  $missingSince the first instant without a value, while there is none
     * @param bool          $raisedBefore blind only: it was raised when sight of it was lost
     */
    public function __construct(
        public Phase $phase,
        public Instant $since,
        public ?Instant $onset = null,
        public ?Severity $severity = null,
        public ?Instant $missingSince = null,
        public bool $raisedBefore = false,
    ) {
    }

    public static function calm(Instant $since): self
    {
        return new self(Phase::Calm, $since);
    }
}
