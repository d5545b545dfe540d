<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

/** What people changed, and is not in service yet. */
final readonly class ShownPlanDraft
{
    /**
     * @param int              $base    the revision that it began from
     * @param list<PlanChange> $changes against what is in service
     */
    public function __construct(
        public ShownPlan $plan,
        public int $base,
        public int $version,
        public Instant $at,
        public ?string $author,
        public array $changes,
    ) {
    }
}
