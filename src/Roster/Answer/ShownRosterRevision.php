<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

/** A state of the roster. */
final readonly class ShownRosterRevision
{
    /** @param list<string> $changes against the one before */
    public function __construct(
        public int $number,
        public Instant $at,
        public Instant $holdsFrom,
        public ?string $author,
        public string $reason,
        public array $changes,
    ) {
    }
}
