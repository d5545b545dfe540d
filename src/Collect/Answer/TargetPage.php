<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\App\Store\Answer\Metric;

final readonly class TargetPage
{
    /**
     * @param list<ScrapeFault>  $faults
     * @param list<IncidentLine> $incidents
     * @param list<Metric>       $metrics
     * @param list<RuleName>     $rules
     * @param HeldReadings|null  $held      of what is handed in
     */
    public function __construct(
        public array $faults,
        public int $faultsInDay,
        public array $incidents,
        public int $lateMinutes,
        public array $metrics,
        public array $rules,
        public ?HeldReadings $held,
    ) {
    }
}
