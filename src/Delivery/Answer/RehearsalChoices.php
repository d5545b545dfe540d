<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** Of a rule: what may be played, and whom it would tell. */
final readonly class RehearsalChoices
{
    /** @param list<PlayedAlert> $alerts what the rule looks at now; some of it at most */
    public function __construct(public array $alerts)
    {
    }
}
