<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Definition;

use Olivine\App\Platform\Definition\Field\Ids;
use Olivine\App\Platform\Definition\Field\SeriesLabels;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\Core\Rule\Severity;

/** What is to be rehearsed, and with whom. */
final readonly class RehearsalFields
{
    /**
     * @param int                   $rule   its number
     * @param array<string, string> $labels of the alert that is played
     * @param list<int>             $people whom it may reach, once they agreed
     */
    public function __construct(
        #[Whole(1, PHP_INT_MAX)]
        public int $rule,
        #[SeriesLabels]
        public array $labels,
        public Severity $severity,
        #[Ids(50)]
        public array $people,
    ) {
    }
}
