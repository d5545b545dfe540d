<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;
use Olivine\Core\Delivery\IncidentState;

/** Somebody made an incident of its own of some alerts of another one. */
final readonly class SplitOff implements Event
{
    /**
     * @param IncidentState          $of    the other one, before
     * @param non-empty-list<string> $keys  of the alerts
     * @param string                 $title of the gravest of them
     */
    public function __construct(public IncidentState $of, public int $ofId, public array $keys, public string $title, public string $by)
    {
    }
}
