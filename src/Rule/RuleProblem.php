<?php

declare(strict_types=1);

namespace Olivine\App\Rule;

use Olivine\Core\Time\Instant;

/** Why a rule cannot be evaluated. */
final readonly class RuleProblem
{
    /**
     * @param int     $tries how often it was tried since then
     * @param Instant $next  when it is tried again
     */
    public function __construct(
        public int $ruleId,
        public string $rule,
        public Instant $since,
        public int $tries,
        public Instant $next,
        public string $message,
    ) {
    }
}
