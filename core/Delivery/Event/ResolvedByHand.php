<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;

/** Somebody says that it is over, whatever its alerts say. */
final readonly class ResolvedByHand implements Event
{
    public function __construct(public int $person, public string $name)
    {
    }
}
