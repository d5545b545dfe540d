<?php

declare(strict_types=1);

namespace Olivine\App\Store\Answer;

final readonly class Retention
{
    /**
     * @param list<KeptTier> $tiers
     */
    public function __construct(public float $freshBytes, public array $tiers)
    {
    }
}
