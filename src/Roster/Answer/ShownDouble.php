<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

/** Somebody is on call by two rosters at once. */
final readonly class ShownDouble
{
    /** @param list<string> $rosters */
    public function __construct(
        public string $person,
        public array $rosters,
        public Instant $from,
        public Instant $to,
    ) {
    }
}
