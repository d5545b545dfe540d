<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\App\Rule\Definition\UsualOf;

/** Which baseline suits what a formula gives. */
final readonly class Advice
{
    /**
     * @param bool   $known   Whether there is enough of a past to tell
     * @param float  $left    Of the ups and downs around the median, 0 to 1
     * @param int    $history Of the series that has most, in ms
     * @param string $words   Why, in a sentence
     */
    public function __construct(
        public UsualOf $from,
        public int $history,
        public bool $known,
        public float $left,
        public int $series,
        public string $words,
    ) {
    }
}
