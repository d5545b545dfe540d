<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** From which limit on an alert is how grave. */
final readonly class Level
{
    /** @param float $to the upper end of a range; of a single limit it is not looked at */
    public function __construct(public Severity $severity, public float $limit, public float $to = INF)
    {
    }
}
