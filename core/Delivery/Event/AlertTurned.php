<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;
use Olivine\Core\Rule\Severity;

/** Something changed of an alert that is up: it eases, goes blind, is graver or less grave. */
final readonly class AlertTurned implements Event
{
    /**
     * @param Severity|null $severity from now on; null where that is no part of it
     * @param string        $title    what the incident is called where it is the gravest now
     */
    public function __construct(public string $key, public ?Severity $severity, public string $title, public string $words)
    {
    }
}
