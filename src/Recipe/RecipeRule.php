<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

use Olivine\App\Rule\Definition\LimitFields;
use Olivine\App\Rule\Definition\RuleDefinition;
use Olivine\App\Rule\Definition\ThresholdFields;

/** A rule that nearly everybody has, and how its limit is found in the history of what it looks at. */
final readonly class RecipeRule
{
    /**
     * @param string               $thing   of what
     * @param string               $because why one has such a rule
     * @param LimitsOfHistory|null $history null: its limit is the same everywhere
     */
    public function __construct(
        public string $key,
        public string $thing,
        public RuleDefinition $definition,
        public string $because,
        public ?LimitsOfHistory $history,
    ) {
    }

    /** With its first limit there, and all others and the way back in the same proportion. */
    public function withLimit(float $limit): RuleDefinition
    {
        $condition = $this->definition->condition;
        $first = $condition instanceof ThresholdFields ? $condition->limits[0]->limit : 0.0;
        if (!$condition instanceof ThresholdFields || $first === 0.0) {
            return $this->definition;
        }
        $scaled = static fn(float $value): float => (float) sprintf('%.3g', $value * $limit / $first);
        $limits = array_map(static fn(LimitFields $one): LimitFields => new LimitFields($one->severity, $scaled($one->limit)), $condition->limits);

        return $this->definition->raising(
            new ThresholdFields($condition->side, $limits, $scaled($condition->clear), $condition->clearTo, $condition->need, $condition->of),
            $this->definition->holdSeconds,
        );
    }
}
