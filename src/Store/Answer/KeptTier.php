<?php

declare(strict_types=1);

namespace Olivine\App\Store\Answer;

final readonly class KeptTier
{
    public function __construct(
        public string $name,
        public int $bytes,
        public float $bytesADay,
        public float $bytesWhenFull,
        public float $coveredDays,
        public int $days,
        public float $droppedBytes,
        public int $droppedDays,
        public int $rows,
    ) {
    }
}
