<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

/** A path over the next fortnight. */
final readonly class CoveredPath
{
    /** @param list<CoveredStretch> $stretches in the order of time */
    public function __construct(
        public string $name,
        public string $ladder,
        public array $stretches,
    ) {
    }
}
