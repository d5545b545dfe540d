<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** An alert that has been raised for days. */
final readonly class RaisedRule
{
    public function __construct(
        public int $id,
        public LabelSet $labels,
        public string $name,
        public Instant $since,
    ) {
    }
}
