<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

final readonly class IncidentChart
{
    /**
     * @param list<int>        $times
     * @param list<float|null> $values
     */
    public function __construct(public Instant $from, public array $times, public Instant $to, public array $values)
    {
    }
}
