<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\Core\Time\Instant;

/** A subscription: its address is told once. */
final readonly class ShownLink
{
    /**
     * @param string       $of      whose shifts: my shifts, or the name of a roster
     * @param Instant|null $usedAt  when somebody read it last
     * @param string|null  $address told when it is made
     */
    public function __construct(
        public int $id,
        public string $of,
        public Instant $madeAt,
        public ?Instant $usedAt,
        public ?string $address,
    ) {
    }
}
