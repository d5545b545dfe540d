<?php

declare(strict_types=1);

namespace Olivine\App\Store\Answer;

final readonly class Band
{
    /**
     * @param list<float|null> $high
     * @param list<float|null> $low
     * @param list<float|null> $middle
     */
    public function __construct(
        public array $high,
        public string $key,
        public array $low,
        public array $middle,
        public int $weeks,
    ) {
    }
}
