<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;

/** Whoever had it in hand has it no more. */
final readonly class HandedBack implements Event
{
    public function __construct(public int $person, public string $name)
    {
    }
}
