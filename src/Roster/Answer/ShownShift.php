<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

/** Who is on call, and why; or why nobody is. */
final readonly class ShownShift
{
    /**
     * @param string|null $person  null: nobody
     * @param string      $because `rotation nights, covers for Ines Duarte`
     */
    public function __construct(
        public ?string $person,
        public ?int $personId,
        public Instant $from,
        public Instant $to,
        public ?string $rotation,
        public string $because,
    ) {
    }
}
