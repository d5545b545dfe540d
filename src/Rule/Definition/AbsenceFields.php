<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\Core\Rule\Condition;
use Olivine\Core\Rule\Condition\Absence;
use Olivine\Core\Rule\Severity;

/** No value where there was one. */
final readonly class AbsenceFields implements ConditionFields
{
    public string $kind;

    public function __construct(public Severity $severity)
    {
        $this->kind = 'absence';
    }

    public function core(): Condition
    {
        return new Absence($this->severity);
    }
}
