<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Line;

/** What a filter would match now. */
final readonly class MatchFields
{
    public function __construct(
        #[Line(2_000, 1)]
        public string $matching,
    ) {
    }
}
