<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

/** Somebody who takes turns, or may. */
final readonly class RosterPerson
{
    /** @param list<string> $rosters on which they take turns, as these are set up to go on */
    public function __construct(
        public int $id,
        public string $name,
        public string $address,
        public array $rosters,
    ) {
    }
}
