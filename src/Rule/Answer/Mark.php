<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Rule\Worth;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** What somebody said of an alert. */
final readonly class Mark
{
    public function __construct(
        public Instant $at,
        public ?string $author,
        public ?Instant $clearedAt,
        public LabelSet $labels,
        public Instant $raisedAt,
        public Worth $worth,
    ) {
    }
}
