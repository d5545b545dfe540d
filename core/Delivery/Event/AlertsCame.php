<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;
use Olivine\Core\Delivery\GroupedAlert;
use Olivine\Core\Rule\Severity;

/** Somebody laid the alerts of another incident into this one: whoever was told of that one is told of this one from now on. */
final readonly class AlertsCame implements Event
{
    /**
     * @param array<string, GroupedAlert> $alerts   by their keys
     * @param list<int>                   $told     of the other incident
     * @param Severity                    $severity of the other incident, and what it is called
     */
    public function __construct(
        public array $alerts,
        public array $told,
        public Severity $severity,
        public string $title,
        public string $words,
    ) {
    }
}
