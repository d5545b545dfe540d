<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** An alert that came and went. */
final readonly class FlappingOne
{
    /** @param int $clearHoldSeconds That would have made it one alert */
    public function __construct(
        public int $clearHoldSeconds,
        public Instant $from,
        public int $id,
        public LabelSet $labels,
        public string $name,
        public int $times,
        public Instant $to,
        public int $wasClearHoldSeconds,
    ) {
    }
}
