<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Time\Instant;

/** What would have become of an incident. */
final readonly class ReplayedCourse
{
    /** @param list<array{Instant, Decision}> $decisions when, and what */
    public function __construct(public IncidentState $state, public array $decisions)
    {
    }
}
