<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Time\Instant;

final readonly class Rung
{
    public function __construct(public int $number, public Listener $listener, public Instant $dueAt)
    {
    }
}
