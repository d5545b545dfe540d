<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\App\Platform\Definition\Field\YesOrNo;

/** A draft that a person puts into service. */
final readonly class PlanFields
{
    /**
     * @param int    $version   of the draft, as it was read
     * @param string $reason    why
     * @param bool   $overFiles whether it is meant that parts which come from files become otherwise
     */
    public function __construct(
        #[Whole(1, PHP_INT_MAX)]
        public int $version,
        #[Line(300)]
        public string $reason = '',
        #[YesOrNo]
        public bool $overFiles = false,
    ) {
    }
}
