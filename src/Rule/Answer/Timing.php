<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

final readonly class Timing
{
    public function __construct(
        public int $gatherMs,
        public int $intervalMs,
        public ?int $sendMs,
        public int $stepMs,
        public int $windowMs,
    ) {
    }
}
