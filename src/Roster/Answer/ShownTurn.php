<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

/** Whose turn it is by one rotation, covers and absences aside. */
final readonly class ShownTurn
{
    public function __construct(
        public string $person,
        public int $personId,
        public Instant $from,
        public Instant $to,
    ) {
    }
}
