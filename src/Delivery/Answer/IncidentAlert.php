<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Rule\Direction;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

final readonly class IncidentAlert
{
    /**
     * @param ?string $broken Why the rule cannot be evaluated, where that is what was raised
     * @param ?string $end    How it ended: calm, lost or ended
     */
    public function __construct(
        public string $name,
        public bool $blind,
        public ?string $broken,
        public ?string $end,
        public int $clearHoldSeconds,
        public float $clearLimit,
        public ?Instant $clearedAt,
        public Direction $direction,
        public string $formula,
        public int $holdSeconds,
        public LabelSet $labels,
        public float $limit,
        public Instant $onsetAt,
        public Instant $raisedAt,
        public ?float $raisedValue,
        public int $ruleId,
        public string $runbook,
        public Severity $severity,
        public string $unit,
    ) {
    }
}
