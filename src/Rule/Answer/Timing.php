<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

final readonly class Timing
{
    /**
     * @param int|null $blindMs         so long after all readings stopped nobody can tell any more; null: that is what it looks for
     * @param float    $readingsAMinute that come in of what it looks at
     */
    public function __construct(
        public ?int $blindMs,
        public int $gatherMs,
        public int $intervalMs,
        public float $readingsAMinute,
        public ?int $sendMs,
        public int $stepMs,
        public int $windowMs,
    ) {
    }
}
