<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

final readonly class CostRow
{
    public function __construct(
        public int $id,
        public string $name,
        public float $bytesADay,
        public float $readingsPerSecond,
        public int $series,
    ) {
    }
}
