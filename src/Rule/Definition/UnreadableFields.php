<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\Core\Rule\BadRule;
use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Severity;
use Olivine\Core\Rule\Side;

/**
 * The condition of a rule that cannot be read any more as it is kept: it never works, so that one such rule is broken in words and
 * all others go on. It is shown as what can still be read of it, else as a limit that nothing passes.
 */
final readonly class UnreadableFields implements ConditionFields, \JsonSerializable
{
    private const BEYOND = 1e15;

    public function __construct(private string $why, private ConditionFields $left)
    {
    }

    public static function nothing(): ThresholdFields
    {
        return new ThresholdFields(Side::Above, [new LimitFields(Severity::Minor, self::BEYOND)], self::BEYOND);
    }

    public function jsonSerialize(): ConditionFields
    {
        return $this->left;
    }

    public function core(): Condition
    {
        throw new BadRule('condition', "cannot be read any more as it is kept ({$this->why}); write the rule anew, or go back to a former revision");
    }
}
