<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

/** What one person carries. */
final readonly class ShownShare
{
    public function __construct(
        public string $person,
        public int $personId,
        public float $hours,
        public int $nights,
        public int $weekends,
        public int $holidays,
        public int $wakings,
    ) {
    }
}
