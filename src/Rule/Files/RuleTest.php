<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

use Olivine\Core\Exposition\TextReadings;
use Olivine\Core\Time\Instant;

/** Given these readings, these alerts are expected at these times. */
final readonly class RuleTest
{
    /** @param list<ExpectedMove> $expected */
    public function __construct(
        public string $name,
        public string $rule,
        public Instant $from,
        public Instant $to,
        public TextReadings $readings,
        public array $expected,
        public string $file,
        public int $line,
    ) {
    }
}
