<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Delivery\IncidentStatus;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;

readonly class IncidentHead
{
    public function __construct(
        public int $id,
        public ?Instant $acknowledgedAt,
        public ?string $acknowledgedBy,
        public ?Instant $heldUntil,
        public ?Instant $hushedUntil,
        public Instant $openedAt,
        public bool $rehearsed,
        public bool $replayed,
        public ?Instant $resolvedAt,
        public ?string $resolvedBy,
        public string $service,
        public Severity $severity,
        public IncidentStatus $status,
        public string $title,
    ) {
    }
}
