<?php

declare(strict_types=1);

namespace Olivine\Core\Series;

/** Roll-ups of one series over a span, oldest first; only buckets that hold a reading. Columns that were not asked for are empty. */
final readonly class Buckets
{
    /**
     * @param list<int>        $ends     the instant each bucket ends at, rising
     * @param list<int>        $counts
     * @param list<float>      $firsts
     * @param list<float>      $lasts
     * @param list<float>      $lows
     * @param list<float>      $highs
     * @param list<float>      $sums
     * @param list<float>|null $growths
     * @param list<int>        $firstAts
     * @param list<int>        $lastAts
     * @param int              $bornMs   when the series was seen first, as far as anybody knows
     */
    public function __construct(
        public LabelSet $labels,
        public int $staleMs,
        public array $ends,
        public array $counts,
        public array $firsts,
        public array $lasts,
        public array $lows,
        public array $highs,
        public array $sums,
        public ?array $growths,
        public array $firstAts,
        public array $lastAts,
        public int $bornMs = 0,
    ) {
    }
}
