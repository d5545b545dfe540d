<?php

declare(strict_types=1);

namespace Olivine\Standin\Fleet;

final readonly class MetricFamily
{
    /** @param list<Signal> $signals */
    public function __construct(
        public string $name,
        public string $type,
        public string $unit,
        public string $help,
        public array $signals,
    ) {
    }
}
