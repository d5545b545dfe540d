<?php

declare(strict_types=1);

namespace Olivine\App\People\Answer;

use Olivine\Core\Time\Instant;

final readonly class AuditEntry
{
    public function __construct(
        public int $id,
        public string $action,
        public string $address,
        public mixed $after,
        public Instant $at,
        public mixed $before,
        public ?string $person,
        public string $subject,
    ) {
    }
}
