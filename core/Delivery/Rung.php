<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

final readonly class Rung
{
    public function __construct(public int $number, public Listener $listener, public int $dueAtMs)
    {
    }
}
