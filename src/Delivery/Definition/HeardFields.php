<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\SeriesLabels;
use Olivine\App\Platform\Definition\Field\Whole;

/** An alert of the past of which is asked who heard. */
final readonly class HeardFields
{
    /**
     * @param array<string, string> $labels of the alert
     * @param int                   $at     when it was raised, or while it was, ms since 1970
     */
    public function __construct(
        #[SeriesLabels]
        public array $labels,
        #[Whole(0, 99_999_999_999_999)]
        public int $at,
    ) {
    }
}
