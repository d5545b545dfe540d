<?php

declare(strict_types=1);

namespace Olivine\App\Formula\Answer;

/** A formula as one would say it. */
final readonly class SaidFormula
{
    /**
     * @param string|null  $across        How series are put together; null: each by itself
     * @param list<string> $per           Labels of which each value is a line
     * @param string|null  $reducer       How the window counts; null: the last reading
     * @param list<string> $tests         Of labels, all of which hold
     * @param int          $windowSeconds 0 where there is none
     */
    public function __construct(
        public ?string $across,
        public string $metric,
        public array $per,
        public ?string $reducer,
        public array $tests,
        public int $windowSeconds,
    ) {
    }
}
