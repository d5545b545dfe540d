<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;
use Olivine\Core\Time\Instant;

/** Somebody has it in hand. */
final readonly class Acknowledged implements Event
{
    /**
     * @param string       $how   such as `from the mail`; empty: on its page
     * @param Instant|null $until when nobody has it any more, unless it is over by then; null: until it is
     */
    public function __construct(public int $person, public string $name, public string $how = '', public ?Instant $until = null)
    {
    }
}
