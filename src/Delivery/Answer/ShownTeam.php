<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\App\Delivery\Definition\TeamDefinition;

final readonly class ShownTeam
{
    /**
     * @param list<string> $people their names
     * @param list<string> $usedBy ladders and copies
     */
    public function __construct(public TeamDefinition $definition, public array $people, public array $usedBy)
    {
    }
}
