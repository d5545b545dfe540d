<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

/** Something to write a rule about, with what it measures now and what it usually measures. */
final readonly class RuleStart
{
    /**
     * @param string     $formula   To watch it by
     * @param float|null $highest   Of its series now
     * @param float|null $lowest    Of its series now
     * @param int        $rules     That look at it
     * @param float|null $usualFrom In a day, nine of ten values lie from here
     * @param float|null $usualTo   To here
     */
    public function __construct(
        public string $formula,
        public string $help,
        public ?float $highest,
        public ?float $lowest,
        public string $metric,
        public int $rules,
        public int $series,
        public string $unit,
        public ?float $usualFrom,
        public ?float $usualTo,
    ) {
    }
}
