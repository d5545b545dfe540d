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
     * @param Severity|null $severity     of the present raise, as grave as it is by now
     * @param Instant|null  $missingSince the first instant at which nobody could tell, while that is so
     * @param bool          $raisedBefore blind only: it was raised when sight of it was lost
     * @param Memory        $memory       what the condition keeps of it
     * @param Instant|null  $milderSince  raised only: since when it is not as grave any more
     */
    public function __construct(
        public Phase $phase,
        public Instant $since,
        public ?Instant $onset = null,
        public ?Severity $severity = null,
        public ?Instant $missingSince = null,
        public bool $raisedBefore = false,
        public Memory $memory = new Memory(),
        public ?Instant $milderSince = null,
    ) {
    }

    public static function calm(Instant $since): self
    {
        return new self(Phase::Calm, $since);
    }

    /** The same where it has nothing new to remember. */
    public function remembering(Memory $memory): self
    {
        return $memory->numbers === $this->memory->numbers ? $this : $this->with($this->severity, $memory, $this->milderSince);
    }

    public function asGraveAs(?Severity $severity): self
    {
        return $this->with($severity, $this->memory, null);
    }

    public function milderFrom(Instant $at): self
    {
        return $this->with($this->severity, $this->memory, $at);
    }

    /** Whatever was missed until now does not count. */
    public function missedFromNowOn(): self
    {
        return $this->missingSince === null
            ? $this
            : new self($this->phase, $this->since, $this->onset, $this->severity, null, $this->raisedBefore, $this->memory);
    }

    private function with(?Severity $severity, Memory $memory, ?Instant $milderSince): self
    {
        return new self(
            $this->phase,
            $this->since,
            $this->onset,
            $severity,
            $this->missingSince,
            $this->raisedBefore,
            $memory,
            $milderSince,
        );
    }
}
