<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

final readonly class Curve
{
    /**
     * @param list<int>        $times
     * @param list<float|null> $values
     */
    public function __construct(public array $times, public array $values)
    {
    }
}
