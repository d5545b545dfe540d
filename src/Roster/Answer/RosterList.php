<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

/** All rosters. */
final readonly class RosterList
{
    /**
     * @param list<RosterRow>    $rosters
     * @param list<RosterPerson> $people  who may be put on them
     */
    public function __construct(
        public Instant $now,
        public array $rosters,
        public array $people,
    ) {
    }
}
