<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\Whole;

/** A rule to be replayed over past readings. */
final readonly class ReplayFields
{
    /** @param int|null $against a rule in service, to be compared with */
    public function __construct(
        public RuleDefinition $definition,
        #[Whole(1, 9_600)]
        public int $hours = 168,
        #[Whole(1, PHP_INT_MAX)]
        public ?int $against = null,
    ) {
    }
}
