<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

/** Somebody is away. */
final readonly class ShownAbsence
{
    /**
     * @param string|null $calendar where it comes from; null: entered by hand
     * @param bool        $mayEnd   whether whoever reads this may end it
     */
    public function __construct(
        public int $id,
        public string $person,
        public int $personId,
        public Instant $from,
        public Instant $to,
        public string $note,
        public ?string $calendar,
        public bool $mayEnd,
    ) {
    }
}
