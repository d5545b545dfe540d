<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Delivery\Definition\PlanDefinition;
use Olivine\Core\Delivery\Copy;
use Olivine\Core\Delivery\EndsWith;
use Olivine\Core\Delivery\Path;

/** A plan as people wrote it, and as it works. */
final readonly class WorkingPlan
{
    /**
     * @param int                  $number of its revision; 0: as it was installed
     * @param non-empty-list<Path> $paths
     * @param list<Copy>           $copies
     */
    public function __construct(public PlanDefinition $definition, public int $number, public array $paths, public array $copies)
    {
    }

    /** @return list<string> paths whose ladder is climbed until it is over, whoever has it */
    public function untilOver(): array
    {
        $goesOn = array_filter($this->paths, static fn(Path $path): bool => $path->ladder->until === EndsWith::Resolved);

        return array_values(array_map(static fn(Path $path): string => $path->name, $goesOn));
    }
}
