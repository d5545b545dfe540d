<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** What an event made of an incident: how it stands from now on, and what is done about it. */
final readonly class Progress
{
    /** @param list<Decision> $decisions in their order */
    public function __construct(public IncidentState $state, public array $decisions)
    {
    }
}
