<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\App\Store\Answer\Metric;

/** One job, how it is told of a run, and what looks at it. */
final readonly class JobPage
{
    /**
     * @param string|null        $address   below which it reports: /began, /ended, /failed; null for whoever may not report
     * @param list<IncidentLine> $incidents
     * @param list<Metric>       $metrics
     * @param list<RuleName>     $rules
     */
    public function __construct(
        public int $from,
        public int $to,
        public Job $job,
        public ?string $address,
        public array $incidents,
        public array $metrics,
        public array $rules,
    ) {
    }
}
