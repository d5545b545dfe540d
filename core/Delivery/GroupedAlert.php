<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Rule\Phase;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** An alert as its incident knows it. */
final readonly class GroupedAlert
{
    /**
     * @param LabelSet   $about its labels, and what else it can be told by
     * @param Phase|null $end   how it ended; null while it is up, or where somebody said so
     */
    public function __construct(
        public Severity $severity,
        public Instant $raisedAt,
        public LabelSet $about,
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
        $about = LabelSet::of(['severity' => $severity->value] + $this->about->labels);

        return new self($severity, $this->raisedAt, $about, $this->endedAt, $this->end);
    }

    public function ended(Instant $at, ?Phase $how): self
    {
        return new self($this->severity, $this->raisedAt, $this->about, $at, $how);
    }
}
