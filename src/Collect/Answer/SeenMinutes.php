<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** In how many minutes of a span a service was there, seen from more than half of the places that know. */
final readonly class SeenMinutes
{
    /**
     * @param int $available in which it was there
     * @param int $unknown   of which no place knows
     * @param int $slow      of those in which it was there
     */
    public function __construct(
        public int $from,
        public int $to,
        public int $minutes,
        public int $available,
        public int $unknown,
        public int $slow,
    ) {
    }
}
