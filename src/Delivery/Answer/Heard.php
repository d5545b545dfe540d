<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

final readonly class Heard
{
    /**
     * @param int               $incidents That its alerts would have been
     * @param list<HeardPerson> $people    The most woken first
     * @param int               $unheard   Incidents that were over before anybody was reached, or that reach nobody
     */
    public function __construct(public int $incidents, public array $people, public int $unheard)
    {
    }
}
