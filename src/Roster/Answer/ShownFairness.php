<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

/** How evenly a roster is carried over a span. */
final readonly class ShownFairness
{
    /**
     * @param list<ShownShare> $shares the most hours first
     * @param string           $words  `Tomasz Reyes has 31 nights, 1.7 times an even share`
     * @param float|null       $times  an even share; 1 is even; null where there is nothing to share out
     */
    public function __construct(
        public Instant $from,
        public Instant $to,
        public array $shares,
        public string $words,
        public ?float $times,
        public int $gapHours,
    ) {
    }
}
