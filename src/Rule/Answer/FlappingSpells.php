<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** An alert that comes and goes in a replay. */
final readonly class FlappingSpells
{
    /** @param int $clearHoldSeconds That would have made it one alert */
    public function __construct(
        public int $clearHoldSeconds,
        public Instant $from,
        public LabelSet $labels,
        public int $times,
        public Instant $to,
    ) {
    }
}
