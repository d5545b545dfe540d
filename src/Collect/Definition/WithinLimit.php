<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\TargetLimit;
use Olivine\App\Platform\Definition\Field\Whole;

/** A whole number that the limit allows. */
#[\Attribute(\Attribute::TARGET_PARAMETER | \Attribute::TARGET_PROPERTY)]
final class WithinLimit extends Whole
{
    public function __construct(TargetLimit $limit)
    {
        parent::__construct(...$limit->range());
    }
}
