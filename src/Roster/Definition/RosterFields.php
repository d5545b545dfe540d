<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Whole;

/** A roster that is made, changed, or tried. */
final readonly class RosterFields
{
    /**
     * @param string   $holdsFrom "": when the shift that is under way ends; now; or 2026-11-28 10:00 on the clocks of the roster
     * @param int|null $number    of the revision that was read
     */
    public function __construct(
        public RosterDefinition $definition,
        #[Line(300)]
        public string $reason = '',
        #[Line(16)]
        public string $holdsFrom = '',
        #[Whole(1, PHP_INT_MAX)]
        public ?int $number = null,
    ) {
    }
}
