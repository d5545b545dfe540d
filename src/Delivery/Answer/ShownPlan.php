<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** All that is set up of who hears. */
final readonly class ShownPlan
{
    /**
     * @param int               $number  of the revision; 0: as it was installed
     * @param list<ShownPath>   $paths   in order
     * @param list<ShownLadder> $ladders
     * @param list<ShownCopy>   $copies
     * @param list<ShownTeam>   $teams
     */
    public function __construct(public int $number, public array $paths, public array $ladders, public array $copies, public array $teams)
    {
    }
}
