<?php

declare(strict_types=1);

namespace Olivine\App\Store\Answer;

final readonly class Metric
{
    public function __construct(
        public string $name,
        public string $help,
        public int $series,
        public string $type,
        public string $unit,
    ) {
    }
}
