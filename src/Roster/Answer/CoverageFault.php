<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\App\Roster\FaultGrade;
use Olivine\Core\Time\Instant;

/** Something because of which somebody might not hear. */
final readonly class CoverageFault
{
    /**
     * @param int|null $rosterId where a cover closes it: on which roster
     * @param int|null $forId    for whom
     */
    public function __construct(
        public FaultGrade $grade,
        public string $words,
        public string $remedy,
        public ?string $path,
        public ?int $rosterId,
        public ?int $forId,
        public ?Instant $from,
        public ?Instant $to,
    ) {
    }
}
