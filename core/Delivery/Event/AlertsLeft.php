<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;

/** Somebody took alerts out of an incident, into another one. */
final readonly class AlertsLeft implements Event
{
    /** @param list<string> $keys */
    public function __construct(public array $keys, public string $words)
    {
    }
}
