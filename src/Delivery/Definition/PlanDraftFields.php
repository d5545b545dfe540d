<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Whole;

/** A former revision that is to be the draft. */
final readonly class PlanDraftFields
{
    /** @param int $revision 0: as it was installed */
    public function __construct(
        #[Whole(0, PHP_INT_MAX)]
        public int $revision,
    ) {
    }
}
