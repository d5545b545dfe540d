<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

/**
 * Readings of one series over a span, oldest first. A null value is no reading: it marks that the series
 * was missing from a scrape that succeeded, so it ended there until the next reading.
 */
final readonly class Window
{
    /**
     * @param list<int>        $times   milliseconds UTC, rising
     * @param list<float|null> $values  one for each time
     * @param int              $staleMs a reading older than this no longer speaks for the present
     */
    public function __construct(public LabelSet $labels, public array $times, public array $values, public int $staleMs)
    {
    }
}
