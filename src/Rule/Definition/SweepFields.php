<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\Core\Rule\Sweep;

/** A setting of a rule to be tried over many values. */
final readonly class SweepFields
{
    public function __construct(
        public RuleDefinition $definition,
        public Sweep $setting,
        #[Whole(1, 336)]
        public int $hours = 168,
    ) {
    }
}
