<?php

declare(strict_types=1);

namespace Olivine\App\Store;

/** Where the readings of a series lie. */
final readonly class Slot
{
    public function __construct(public int $series, public int $page, public int $slot)
    {
    }
}
