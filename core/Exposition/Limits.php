<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

/** What one scrape may bring. Over any of these the scrape is refused as a whole. */
final readonly class Limits
{
    public function __construct(
        public int $bodyBytes = 32_000_000,
        public int $series = 20_000,
        public int $labels = 40,
        public int $labelBytes = 2_000,
        public int $nameBytes = 300,
    ) {
    }
}
