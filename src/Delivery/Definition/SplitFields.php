<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Names;

/** The alerts of an incident that become one of their own. */
final readonly class SplitFields
{
    /** @param list<string> $alerts their keys */
    public function __construct(
        #[Names(60, 500)]
        public array $alerts,
    ) {
    }
}
