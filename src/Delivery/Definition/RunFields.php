<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Whole;

/** About what an action is done: an incident, or a target. */
final readonly class RunFields
{
    /**
     * @param int|null $incident its number
     * @param int|null $target   its number
     * @param int      $version  of the action as it was shown
     */
    public function __construct(
        #[Whole(1, PHP_INT_MAX)]
        public int $version,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $incident = null,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $target = null,
    ) {
    }
}
