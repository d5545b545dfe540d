<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** What a target may bring. */
final readonly class TargetLimit
{
    public function __construct(
        public string $name,
        public int $least,
        public int $most,
        public int $usual,
        public int $value,
        public string $words,
    ) {
    }
}
