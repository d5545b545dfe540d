<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Platform\Definition\Field\Line;

/** A header that goes with a request. */
final readonly class HeaderFields
{
    public function __construct(
        #[Line(100, 1)]
        public string $name,
        #[Line(4_000)]
        public string $value,
    ) {
    }
}
