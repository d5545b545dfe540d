<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** What was usual at the hour at which something was raised, in the unit of its rule. */
final readonly class UsualThen
{
    /** @param int $weeks that were looked at */
    public function __construct(public float $low, public float $middle, public float $high, public int $weeks)
    {
    }
}
