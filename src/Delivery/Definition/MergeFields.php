<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Whole;

/** The incident into which another one goes. */
final readonly class MergeFields
{
    public function __construct(
        #[Whole(1, PHP_INT_MAX)]
        public int $into,
    ) {
    }
}
