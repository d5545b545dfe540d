<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\Core\Formula\BaselineMethod;

/** What a series is held against. */
enum UsualOf: string
{
    case Twins = 'twins';
    case Median = 'median';
    case Mean = 'mean';
    case Ewma = 'ewma';
    case SameHour = 'same_hour';
    case SameWeekday = 'same_weekday';

    /** @return BaselineMethod|null null: the others of its group */
    public function method(): ?BaselineMethod
    {
        return $this === self::Twins ? null : BaselineMethod::from($this->value);
    }
}
