<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\App\Delivery\Definition\LadderDefinition;

/** A ladder, whom it would reach now, and who goes up it. */
final readonly class ShownLadder
{
    /**
     * @param list<ShownRung> $rungs
     * @param list<string>    $usedBy paths
     */
    public function __construct(public LadderDefinition $definition, public array $rungs, public array $usedBy)
    {
    }
}
