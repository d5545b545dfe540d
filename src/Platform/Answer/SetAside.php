<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Answer;

final readonly class SetAside
{
    public function __construct(
        public int $at,
        public int $firstAt,
        public string $part,
        public string $reason,
        public string $subject,
        public int $times,
    ) {
    }
}
