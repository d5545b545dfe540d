<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

final readonly class FoundFamily
{
    /**
     * @param list<FoundReading> $readings
     */
    public function __construct(
        public string $name,
        public string $help,
        public array $readings,
        public int $series,
        public string $type,
        public string $unit,
    ) {
    }
}
