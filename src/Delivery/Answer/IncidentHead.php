<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\App\Delivery\IncidentStatus;
use Olivine\Core\Rule\Severity;

readonly class IncidentHead
{
    public function __construct(
        public int $id,
        public ?int $acknowledgedAt,
        public ?string $acknowledgedBy,
        public int $openedAt,
        public bool $replayed,
        public ?int $resolvedAt,
        public ?string $resolvedBy,
        public string $service,
        public Severity $severity,
        public IncidentStatus $status,
        public string $title,
    ) {
    }
}
