<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** One alert from its raise to its end. */
final readonly class Spell
{
    /**
     * @param Instant|null $cleared  null: it is raised still
     * @param Severity     $severity the worst it reached
     */
    public function __construct(
        public LabelSet $labels,
        public ?Instant $onset,
        public Instant $raised,
        public ?Instant $cleared,
        public Severity $severity,
    ) {
    }

    /** Whether both were raised at the same time, at least for a while. */
    public function overlaps(self $other): bool
    {
        return ($other->cleared === null || $this->raised->isBefore($other->cleared))
            && ($this->cleared === null || $other->raised->isBefore($this->cleared));
    }
}
