<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\App\Delivery\Definition\PathDefinition;

/** A path, and whom it would reach now. */
final readonly class ShownPath
{
    /**
     * @param string          $gathers   in words: `for 40 s`, `until 09:00 or 17:00`
     * @param string          $hours     in words; empty: always
     * @param int             $incidents that it answers for and are not over
     * @param int             $times     its ladder is climbed
     * @param string          $until     what ends that: `acknowledged`, `resolved`
     * @param list<ShownRung> $rungs
     */
    public function __construct(
        public PathDefinition $definition,
        public string $gathers,
        public string $hours,
        public int $incidents,
        public int $times,
        public string $until,
        public array $rungs,
    ) {
    }
}
