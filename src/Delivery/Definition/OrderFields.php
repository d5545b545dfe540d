<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Names;

/** The order of paths, in the draft. */
final readonly class OrderFields
{
    /** @param list<string> $paths all of them but everything else */
    public function __construct(
        #[Names(80, 200)]
        public array $paths,
    ) {
    }
}
