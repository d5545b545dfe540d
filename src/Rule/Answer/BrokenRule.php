<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

final readonly class BrokenRule
{
    public function __construct(
        public string $message,
        public string $rule,
        public int $ruleId,
        public int $since,
        public int $tries,
    ) {
    }
}
