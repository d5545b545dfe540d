<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Unfinished;

/** How somebody wants to be told from now on. */
final readonly class WishesFields
{
    /** @param array<array-key, mixed>|null $was as it was read */
    public function __construct(
        public WishesDefinition $definition,
        #[Unfinished]
        public ?array $was = null,
    ) {
    }
}
