<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\App\Delivery\Answer\IncidentHead;
use Olivine\Core\Time\Instant;

/** What is handed over: a note, and what is open. */
final readonly class ShownHandover
{
    /**
     * @param string|null        $to     who takes over
     * @param Instant            $goesAt when it is sent
     * @param list<IncidentHead> $open
     */
    public function __construct(
        public ?string $text,
        public ?string $by,
        public ?Instant $at,
        public ?int $version,
        public ?string $to,
        public Instant $goesAt,
        public array $open,
    ) {
    }
}
