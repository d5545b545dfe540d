<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Time\Instant;

final readonly class BrokenRule
{
    public function __construct(
        public string $message,
        public string $rule,
        public int $ruleId,
        public Instant $since,
        public int $tries,
    ) {
    }
}
