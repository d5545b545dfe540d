<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;

final readonly class IncidentLine
{
    public function __construct(
        public int $id,
        public Instant $openedAt,
        public ?Instant $resolvedAt,
        public Severity $severity,
        public string $status,
        public string $title,
    ) {
    }
}
