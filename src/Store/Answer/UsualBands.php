<?php

declare(strict_types=1);

namespace Olivine\App\Store\Answer;

final readonly class UsualBands
{
    /**
     * @param list<Band> $bands
     */
    public function __construct(public array $bands, public int $first, public int $step)
    {
    }
}
