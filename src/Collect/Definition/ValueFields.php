<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Platform\Definition\Field\Line;

/** A number on a page that becomes a metric. */
final readonly class ValueFields
{
    /**
     * @param string $metric such as `tide_height_metres`
     * @param string $where  `json /height`, `xml //height` or `html //td[@id="height"]`
     * @param string $unit   by its name, such as `bytes`; "" where it has none, or the name of the metric says it
     * @param bool   $counts whether it only ever grows, as a counter does
     */
    public function __construct(
        #[Line(100, 1)]
        public string $metric,
        #[Line(520, 1)]
        public string $where,
        #[Line(40)]
        public string $unit = '',
        public bool $counts = false,
    ) {
    }
}
