<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Rule\Severity;

final readonly class IncidentLine
{
    public function __construct(
        public int $id,
        public int $openedAt,
        public ?int $resolvedAt,
        public Severity $severity,
        public string $status,
        public string $title,
    ) {
    }
}
