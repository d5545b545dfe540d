<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Unfinished;

/** A path that a person changes or adds, in the draft. */
final readonly class PathFields
{
    /**
     * @param array<array-key, mixed>|null $was    as it was read, to change it
     * @param string|null                  $before of a new one: the path that comes after it; left out: everything else
     */
    public function __construct(
        public PathDefinition $definition,
        #[Unfinished]
        public ?array $was = null,
        #[Line(80)]
        public ?string $before = null,
    ) {
    }
}
