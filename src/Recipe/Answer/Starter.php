<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Answer;

use Olivine\App\Rule\Definition\RuleDefinition;

/** A rule that fits what is watched here, ready to be put into service. */
final readonly class Starter
{
    /**
     * @param string $thing   Of what: host, container …
     * @param string $reason  Why one has such a rule
     * @param string $because Why its limit lies where it does, from the history of what it looks at
     * @param bool   $isThere Whether a rule looks at the same already
     */
    public function __construct(
        public string $thing,
        public RuleDefinition $definition,
        public string $reason,
        public string $because,
        public bool $isThere,
        public string $unit,
    ) {
    }
}
