<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\App\Store\Answer\Metric;

/** One check, its places, what was kept of its failures, and what looks at it. */
final readonly class CheckPage
{
    /**
     * @param list<PlaceName>    $places
     * @param SeenMinutes|null   $day       of the last day; null where it cannot be read
     * @param list<LastExchange> $last      the newest first
     * @param list<EvidenceLine> $evidence  the newest first
     * @param list<IncidentLine> $incidents
     * @param list<Metric>       $metrics
     * @param list<RuleName>     $rules
     */
    public function __construct(
        public Check $check,
        public array $places,
        public ?SeenMinutes $day,
        public array $last,
        public array $evidence,
        public array $incidents,
        public array $metrics,
        public array $rules,
    ) {
    }
}
