<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

/** A calendar from outside. */
final readonly class ShownCalendar
{
    /**
     * @param Instant|null $readAt when it was read last
     * @param string       $fault  why it could not be read last; what it said before stays
     */
    public function __construct(
        public int $id,
        public string $name,
        public bool $holidays,
        public bool $isFile,
        public ?Instant $readAt,
        public string $fault,
        public int $entries,
    ) {
    }
}
