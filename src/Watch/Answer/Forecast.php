<?php

declare(strict_types=1);

namespace Olivine\App\Watch\Answer;

use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;

final readonly class Forecast
{
    public function __construct(
        public Instant $at,
        public int $ruleId,
        public string $service,
        public Severity $severity,
        public string $words,
    ) {
    }

    /** @param array{at: int, ruleId: int, service: string, severity: string, words: string} $kept as it was worked out */
    public static function fromKept(array $kept): self
    {
        return new self(
            at: Instant::ofMs($kept['at']),
            ruleId: $kept['ruleId'],
            service: $kept['service'],
            severity: Severity::from($kept['severity']),
            words: $kept['words'],
        );
    }
}
