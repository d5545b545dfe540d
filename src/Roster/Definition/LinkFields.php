<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Definition;

use Olivine\App\Platform\Definition\Field\Whole;

/** What is to be subscribed to. */
final readonly class LinkFields
{
    /** @param int|null $roster null: one's own shifts, by all rosters */
    public function __construct(
        #[Whole(1, PHP_INT_MAX)]
        public ?int $roster = null,
    ) {
    }
}
