<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

final readonly class IncidentChart
{
    /**
     * @param list<int>        $times
     * @param list<float|null> $values
     */
    public function __construct(public int $from, public array $times, public int $to, public array $values)
    {
    }
}
