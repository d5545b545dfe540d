<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

/** A rule that raised nothing. */
final readonly class SilentRule
{
    /**
     * @param float|null $farthest What came nearest to its limit in a week, where that can be said
     * @param string     $words    What would make it raise
     */
    public function __construct(
        public ?float $farthest,
        public int $id,
        public ?float $limit,
        public string $name,
        public string $unit,
        public string $words,
    ) {
    }
}
