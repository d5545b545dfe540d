<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Rule\Severity;
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
}
