<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Unfinished;

/** A copy that a person changes or adds, in the draft. */
final readonly class CopyFields
{
    /**
     * @param array<array-key, mixed>|null $was as it was read, to change it
     */
    public function __construct(
        public CopyDefinition $definition,
        #[Unfinished]
        public ?array $was = null,
    ) {
    }
}
