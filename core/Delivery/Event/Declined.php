<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;

/** Somebody who was told cannot see to it: the ladder goes on at once. */
final readonly class Declined implements Event
{
    /** @param string $how beside the words: `by SMS`; "" where it goes without saying */
    public function __construct(public int $person, public string $name, public string $how = '')
    {
    }
}
