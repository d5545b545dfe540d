<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Time\Duration;

/** A rule as it works: what it looks at, what makes it raise, how long that must last, and how often it looks. */
final readonly class Rule
{
    /** @param list<string> $dependsOn rules whose alerts explain this one's: while such a one is raised, this one is held */
    public function __construct(
        public Node $watched,
        public Condition $condition,
        public Holding $holding,
        public Duration $step,
        public ?Together $together = null,
        public array $dependsOn = [],
    ) {
    }
}
