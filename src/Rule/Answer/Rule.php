<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Rule\Direction;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;

readonly class Rule
{
    public function __construct(
        public int $id,
        public string $name,
        public int $blindAfterSeconds,
        public ?Severity $blindSeverity,
        public int $lostAfterSeconds,
        public int $clearHoldSeconds,
        public float $clearLimit,
        public Direction $direction,
        public bool $enabled,
        public ?Instant $brokenSince,
        public ?string $fault,
        public string $formula,
        public int $holdSeconds,
        public float $limit,
        public string $runbook,
        public string $service,
        public Severity $severity,
        public string $unit,
        public int $version,
        public ?float $worseLimit,
        public ?Severity $worseSeverity,
    ) {
    }
}
