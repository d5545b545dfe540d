<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\Core\Time\Instant;

/** One state of a rule: what it said, by whom, when and why. */
final readonly class Revision
{
    public function __construct(
        public int $number,
        public Instant $at,
        public ?string $author,
        public RuleDefinition $definition,
        public string $reason,
    ) {
    }
}
