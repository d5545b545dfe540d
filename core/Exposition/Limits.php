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

    /** Of a file that somebody reads on purpose. */
    public static function forFiles(): self
    {
        return new self(bodyBytes: 2_000_000_000, series: 1_000_000, labels: 200, labelBytes: 100_000, nameBytes: 2_000);
    }
}
