<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;

/** Somebody has it in hand. */
final readonly class Acknowledged implements Event
{
    /** @param string $how such as `from the mail`; empty: on its page */
    public function __construct(public int $person, public string $name, public string $how = '')
    {
    }
}
