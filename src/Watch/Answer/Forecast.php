<?php

declare(strict_types=1);

namespace Olivine\App\Watch\Answer;

use Olivine\Core\Rule\Severity;
use Olivine\Core\Time\Instant;

/** Something that lies ahead: a limit that would be reached, or a certificate that ends. */
final readonly class Forecast
{
    /** @param int $ruleId 0 where no rule foresees it */
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
