<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Instant;

/** What a run of a rule over some instants left behind. */
final readonly class Outcome
{
    /**
     * @param array<string, TrackedAlert> $alerts      by the key of their labels
     * @param list<AlertTransition>       $transitions in the order of time, those of one label set at least
     * @param Instant                     $through     the last instant that was looked at
     */
    public function __construct(public array $alerts, public array $transitions, public Instant $through)
    {
    }
}
