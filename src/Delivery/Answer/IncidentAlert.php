<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Rule\Severity;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

final readonly class IncidentAlert
{
    /**
     * @param string      $key        By which it is split off
     * @param ?string     $broken     Why the rule cannot be evaluated, where that is what was raised
     * @param ?string     $end        How it ended: calm, lost or ended
     * @param string      $clearWords What is back: at or below 300 messages
     * @param list<float> $lines      The values to draw as lines, that at which it raises first; none where they move
     * @param string      $reason     What the value is to be held against: limit above 400 messages
     */
    public function __construct(
        public string $key,
        public string $name,
        public bool $blind,
        public ?string $broken,
        public ?string $end,
        public int $clearHoldSeconds,
        public string $clearWords,
        public ?Instant $clearedAt,
        public string $formula,
        public int $holdSeconds,
        public LabelSet $labels,
        public array $lines,
        public Instant $onsetAt,
        public Instant $raisedAt,
        public ?float $raisedValue,
        public string $reason,
        public int $ruleId,
        public string $runbook,
        public Severity $severity,
        public string $unit,
        public string $words,
    ) {
    }
}
