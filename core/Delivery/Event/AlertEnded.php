<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;
use Olivine\Core\Rule\Phase;

/** An alert is over. */
final readonly class AlertEnded implements Event
{
    /** @param Phase $how calm, lost from sight, or ended as nobody looks any more */
    public function __construct(public string $key, public Phase $how, public string $words)
    {
    }
}
