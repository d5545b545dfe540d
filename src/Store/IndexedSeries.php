<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\Core\Series\LabelSet;

final readonly class IndexedSeries
{
    public function __construct(
        public int $id,
        public int $page,
        public int $slot,
        public LabelSet $labels,
        public int $staleMs,
    ) {
    }
}
