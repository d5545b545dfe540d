<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;

final readonly class Spell
{
    public function __construct(
        public ?int $clearedAt,
        public LabelSet $labels,
        public ?int $onsetAt,
        public int $raisedAt,
        public Severity $severity,
    ) {
    }
}
