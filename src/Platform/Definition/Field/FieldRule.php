<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

use Symfony\Component\Validator\Constraint;

/** What may stand in a field, and what is said where something else does; `{field}` in the words is its name. */
abstract class FieldRule extends Constraint
{
    /** @return string|null what is wrong with it */
    abstract public function fault(mixed $value): ?string;

    /** As it is taken: text without the blanks around it, whole numbers where fractions may stand. */
    public function taken(mixed $value): mixed
    {
        return $value;
    }

    public function validatedBy(): string
    {
        return FieldRuleValidator::class;
    }
}
