<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;

/**
 * Stands in for what is kept of a rule and cannot be read any more, so that one such rule is broken in words and all others go
 * on. Shown it is a limit to begin anew with.
 */
final readonly class UnreadableFields implements ConditionFields, \JsonSerializable
{
    public function __construct(private string $why)
    {
    }

    public function jsonSerialize(): ThresholdFields
    {
        return new ThresholdFields(Side::Above, [new LimitFields(Severity::Minor, 0.0)], 0.0);
    }

    public function core(): Condition
    {
        throw new BadRule('condition', "cannot be read any more as it is kept ({$this->why}); write the rule anew, or go back to a former revision");
    }
}
