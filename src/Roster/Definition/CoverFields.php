<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Definition;

use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\App\Platform\Definition\Field\YesOrNo;

/** A cover that is asked for, or set. */
final readonly class CoverFields
{
    /**
     * @param int    $person   who stands in
     * @param int    $for      for whom
     * @param string $from     2026-11-28 10:00 on the clocks of the roster
     * @param bool   $set      without asking; for administrators
     * @param string $backFrom of a swap: when the one stands in for the other in return; "": for nothing
     */
    public function __construct(
        #[Whole(1, PHP_INT_MAX)]
        public int $person,
        #[Whole(1, PHP_INT_MAX)]
        public int $for,
        #[Line(16, 16)]
        public string $from,
        #[Line(16, 16)]
        public string $to,
        #[Line(300)]
        public string $note = '',
        #[YesOrNo]
        public bool $set = false,
        #[Line(16)]
        public string $backFrom = '',
        #[Line(16)]
        public string $backTo = '',
    ) {
    }
}
