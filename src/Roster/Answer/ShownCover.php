<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\App\Roster\CoverState;
use Olivine\Core\Time\Instant;

/** A cover, asked for or agreed. */
final readonly class ShownCover
{
    /**
     * @param string $person    who stands in
     * @param string $for       for whom
     * @param bool   $inReturn  whether it is half of a swap
     * @param bool   $mayAnswer whether whoever reads this was asked
     */
    public function __construct(
        public int $id,
        public int $rosterId,
        public string $roster,
        public string $person,
        public int $personId,
        public string $for,
        public int $forId,
        public Instant $from,
        public Instant $to,
        public CoverState $state,
        public string $note,
        public ?string $askedBy,
        public bool $inReturn,
        public bool $mayAnswer,
        public bool $mayWithdraw,
    ) {
    }
}
