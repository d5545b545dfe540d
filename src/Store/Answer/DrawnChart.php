<?php

declare(strict_types=1);

namespace Olivine\App\Store\Answer;

/** A chart without the instants between which each looks at it: those who look within a second share it. */
readonly class DrawnChart
{
    /**
     * @param list<ChartLine> $lines
     * @param list<string>    $metrics
     */
    public function __construct(
        public int $first,
        public string $formula,
        public array $lines,
        public array $metrics,
        public int $more,
        public int $step,
        public float $tookMs,
        public string $unit,
        public ?Why $why,
    ) {
    }
}
