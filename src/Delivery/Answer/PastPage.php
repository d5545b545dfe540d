<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** Incidents, newest first. */
final readonly class PastPage
{
    /**
     * @param list<PastIncident> $incidents
     * @param int|null           $before    the last of these, where there are older ones
     */
    public function __construct(public array $incidents, public ?int $before)
    {
    }
}
