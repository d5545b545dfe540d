<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

/** One state of who hears: by whom, when, why, and what it changed. */
final readonly class PlanRevision
{
    /** @param list<PlanChange> $changes against the one before */
    public function __construct(public int $number, public Instant $at, public ?string $author, public string $reason, public array $changes)
    {
    }
}
