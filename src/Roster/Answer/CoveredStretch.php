<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

/** Who would hear of what a path answers for, all through a stretch. */
final readonly class CoveredStretch
{
    /**
     * @param bool         $answers whether the path answers then; outside its hours another one does
     * @param list<string> $people  who would hear at once
     * @param string       $words   who hears by which way, or why nobody does
     */
    public function __construct(
        public Instant $from,
        public Instant $to,
        public bool $answers,
        public bool $isGap,
        public array $people,
        public string $words,
    ) {
    }
}
