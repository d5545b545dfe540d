<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Spell as CoreSpell;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

final readonly class Spell
{
    public function __construct(
        public ?Instant $clearedAt,
        public LabelSet $labels,
        public ?Instant $onsetAt,
        public Instant $raisedAt,
        public Severity $severity,
    ) {
    }

    public static function of(CoreSpell $spell): self
    {
        return new self($spell->cleared, $spell->labels, $spell->onset, $spell->raised, $spell->severity);
    }
}
