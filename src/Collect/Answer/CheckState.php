<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** How a check stands from one place. */
final readonly class CheckState
{
    /**
     * @param int    $since when it began to be so
     * @param string $words why; "" where all is well
     * @param string $ticks its last askings, as those of a target, with how many milliseconds each took
     */
    public function __construct(
        public int $place,
        public int $at,
        public string $verdict,
        public int $since,
        public string $words,
        public float $seconds,
        public bool $overdue,
        public string $ticks,
    ) {
    }
}
