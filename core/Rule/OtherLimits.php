<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Node\Filter;

/** Limits of their own for some of what a rule looks at: above 300 where tier is 1, else above 800. The first that fits holds. */
final readonly class OtherLimits
{
    public function __construct(public Filter $where, public Limits $limits)
    {
    }
}
