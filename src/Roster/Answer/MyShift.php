<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

/** A shift of one's own. */
final readonly class MyShift
{
    public function __construct(
        public string $roster,
        public int $rosterId,
        public Instant $from,
        public Instant $to,
        public string $because,
    ) {
    }
}
