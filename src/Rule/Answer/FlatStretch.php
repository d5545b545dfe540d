<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

/** Values next to each other that give the same number of alerts. */
final readonly class FlatStretch
{
    public function __construct(public float $from, public float $to, public int $alerts)
    {
    }
}
