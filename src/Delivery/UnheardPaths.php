<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

use Olivine\App\Platform\Clock;
use Olivine\Core\Delivery\LadderStep;
use Olivine\Core\Delivery\Path;

/** Paths whose ladder would reach nobody now, on none of its rungs. */
final readonly class UnheardPaths
{
    public function __construct(private WhoHears $who, private Clock $clock = new Clock())
    {
    }

    /** @return list<string> their names, in order */
    public function now(): array
    {
        $configuration = $this->who->now();
        $now = $this->clock->now();
        $reaches = static fn(LadderStep $step): bool => $step->isForOwner() || $configuration->reached($step->who, $now) !== [];
        $unheard = array_filter($configuration->paths, static fn(Path $path): bool => !array_any($path->ladder->steps, $reaches));

        return array_values(array_map(static fn(Path $path): string => $path->name, $unheard));
    }
}
