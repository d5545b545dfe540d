<?php

declare(strict_types=1);

namespace Olivine\App\Store;

/** The readings of one page at one time, packed. */
final readonly class ScrapeRow
{
    public function __construct(public int $page, public int $atMs, public string $values)
    {
    }
}
