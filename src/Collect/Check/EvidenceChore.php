<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\App\Collect\TargetLimit;
use Olivine\App\Collect\TargetLimits;
use Olivine\App\Platform\Chore;
use Olivine\App\Store\Span;
use Olivine\Core\Time\Instant;

/** Lets go of what was seen when checks failed, once it is past the time it is kept for. */
final readonly class EvidenceChore implements Chore
{
    private const EVERY_MS = 600_000;

    public function __construct(private CheckStates $states, private TargetLimits $limits)
    {
    }

    public function name(): string
    {
        return 'letting go of old evidence';
    }

    public function everyMs(): int
    {
        return self::EVERY_MS;
    }

    public function do(Instant $now): void
    {
        $this->states->forgetBefore($now->ms - $this->limits->values()[TargetLimit::EvidenceDays->value] * Span::DAY_MS);
    }
}
