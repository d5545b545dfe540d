<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** What a plan can be made of. */
final readonly class PlanChoices
{
    /**
     * @param list<Choosable> $people
     * @param list<string>    $roles
     * @param list<string>    $rosters  the first one is meant where none is named
     * @param list<string>    $channels in the order in which they stand in for one another
     */
    public function __construct(
        public array $people,
        public array $roles,
        public array $rosters,
        public array $channels,
        public string $zone,
    ) {
    }
}
