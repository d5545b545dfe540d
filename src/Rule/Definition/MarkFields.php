<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Definition;

use Olivine\App\Platform\Definition\Field\SeriesLabels;
use Olivine\App\Platform\Definition\Field\Whole;
use Olivine\Core\Rule\Worth;

/** What somebody says of an alert. */
final readonly class MarkFields
{
    /**
     * @param array<string, string> $labels    of the alert
     * @param int                   $raisedAt  ms since 1970
     * @param int|null              $clearedAt null: it is raised still
     * @param Worth|null            $worth     null: what was said is taken back
     */
    public function __construct(
        #[SeriesLabels]
        public array $labels,
        #[Whole(0, 99_999_999_999_999)]
        public int $raisedAt,
        #[Whole(0, 99_999_999_999_999)]
        public ?int $clearedAt = null,
        public ?Worth $worth = null,
    ) {
    }
}
