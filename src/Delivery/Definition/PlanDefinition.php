<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\ListOf;

/** All that people set up of who hears: a revision of the plan is one of these. */
final readonly class PlanDefinition
{
    /**
     * @param list<PathDefinition>   $paths   in order; the last one is everything else
     * @param list<LadderDefinition> $ladders
     * @param list<CopyDefinition>   $copies
     * @param list<TeamDefinition>   $teams
     */
    public function __construct(
        #[ListOf(PathDefinition::class, 1, 200)]
        public array $paths,
        #[ListOf(LadderDefinition::class, 1, 100)]
        public array $ladders,
        #[ListOf(CopyDefinition::class, 0, 100)]
        public array $copies = [],
        #[ListOf(TeamDefinition::class, 0, 100)]
        public array $teams = [],
    ) {
    }
}
