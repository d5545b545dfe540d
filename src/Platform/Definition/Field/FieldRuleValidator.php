<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Definition\Field;

use Symfony\Component\Validator\Constraint;
use Symfony\Component\Validator\ConstraintValidator;

/** Each rule judges for itself. */
final class FieldRuleValidator extends ConstraintValidator
{
    public function validate(mixed $value, Constraint $constraint): void
    {
        $constraint instanceof FieldRule || throw new \LogicException('Only for rules of fields');
        $fault = $constraint->fault($value);
        if ($fault !== null) {
            $this->context->addViolation($fault);
        }
    }
}
