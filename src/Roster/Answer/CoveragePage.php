<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

/** Who would hear, hour by hour of the next fortnight, and what may keep somebody from it. */
final readonly class CoveragePage
{
    /**
     * @param list<CoveredPath>   $paths  in their order
     * @param list<CoverageFault> $faults the gravest first, then the soonest
     */
    public function __construct(
        public Instant $from,
        public Instant $to,
        public string $words,
        public array $paths,
        public array $faults,
        public float $tookMs,
    ) {
    }
}
