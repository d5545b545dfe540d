<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

final readonly class Cost
{
    /**
     * @param list<LabelCost> $labels
     * @param list<CostRow>   $metrics
     * @param list<CostRow>   $targets
     */
    public function __construct(
        public float $bytesADay,
        public float $bytesPerReading,
        public array $labels,
        public array $metrics,
        public int $metricsInAll,
        public float $readingsPerSecond,
        public int $series,
        public int $storedBytes,
        public array $targets,
    ) {
    }
}
