<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\Whole;

/** A rule of which better settings are wanted. */
final readonly class ProposalFields
{
    public function __construct(
        public RuleDefinition $definition,
        #[Whole(1, 720)]
        public int $hours = 336,
    ) {
    }
}
