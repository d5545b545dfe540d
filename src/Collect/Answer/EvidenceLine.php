<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** That something was kept of a failure. */
final readonly class EvidenceLine
{
    public function __construct(
        public int $id,
        public int $place,
        public int $at,
        public string $verdict,
        public string $words,
        public float $seconds,
    ) {
    }
}
