<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

/** Why a rule cannot be evaluated. */
final readonly class RuleProblem
{
    /**
     * @param int $tries  how often it was tried since then
     * @param int $nextMs when it is tried again
     */
    public function __construct(
        public int $ruleId,
        public string $rule,
        public int $sinceMs,
        public int $tries,
        public int $nextMs,
        public string $message,
    ) {
    }
}
