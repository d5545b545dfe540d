<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

/** What one scrape may bring. Over any of these the scrape is refused as a whole. */
final readonly class Limits
{
    /**
     * @param int $readings        series with times of their own may bring several
     * @param int $newSeriesAnHour after a target's first scrape
     * @param int $knownSeries     that a target has ever brought
     * @param int $lateMs          readings with a time of their own may be this old
     * @param int $earlyMs         and lie this far ahead, for clocks that differ
     */
    public function __construct(
        public int $bodyBytes = 32_000_000,
        public int $series = 20_000,
        public int $readings = 100_000,
        public int $labels = 40,
        public int $labelBytes = 2_000,
        public int $nameBytes = 300,
        public int $newSeriesAnHour = 5_000,
        public int $knownSeries = 100_000,
        public int $lateMs = 3_600_000,
        public int $earlyMs = 600_000,
    ) {
    }

    /** Of a file that somebody reads on purpose. */
    public static function forFiles(): self
    {
        return new self(
            bodyBytes: 2_000_000_000,
            series: 1_000_000,
            readings: PHP_INT_MAX,
            labels: 200,
            labelBytes: 100_000,
            nameBytes: 2_000,
        );
    }

    /** Of a file that is taken into the store. */
    public static function forImports(): self
    {
        return new self(series: 200_000, readings: PHP_INT_MAX);
    }
}
