<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;

/** An alert as its incident knows it. */
final readonly class GroupedAlert
{
    /** @param Phase|null $end how it ended; null while it is up */
    public function __construct(
        public Severity $severity,
        public Instant $raisedAt,
        public ?Instant $endedAt = null,
        public ?Phase $end = null,
    ) {
    }

    public function isUp(): bool
    {
        return $this->endedAt === null;
    }

    public function as(Severity $severity): self
    {
        return new self($severity, $this->raisedAt, $this->endedAt, $this->end);
    }

    public function ended(Instant $at, ?Phase $how): self
    {
        return new self($this->severity, $this->raisedAt, $at, $how);
    }
}
