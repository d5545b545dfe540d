<?php

declare(strict_types=1);

namespace Olivine\App\People\Answer;

final readonly class AuditEntry
{
    public function __construct(
        public int $id,
        public string $action,
        public string $address,
        public mixed $after,
        public int $at,
        public mixed $before,
        public ?string $person,
        public string $subject,
    ) {
    }
}
