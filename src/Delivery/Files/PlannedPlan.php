<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Files;

use Olivine\App\Delivery\Answer\PlanChange;
use Olivine\App\Delivery\Definition\PlanDefinition;

/** What files would make of who hears. */
final readonly class PlannedPlan
{
    /**
     * @param PlanDefinition        $plan    with what the files say
     * @param PlanDefinition        $byHand  the same, but for what was changed by hand since the last apply
     * @param list<PlanChange>      $changes against what is in service
     * @param list<string>          $hand    parts that were changed by hand since: `path boarding`
     * @param array<string, string> $fileOf  part → file
     */
    public function __construct(
        public PlanDefinition $plan,
        public PlanDefinition $byHand,
        public array $changes,
        public array $hand,
        public array $fileOf,
    ) {
    }
}
