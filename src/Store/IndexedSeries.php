<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\App\Collect\Entity\Target;
use Olivine\Core\Series\LabelSet;

final readonly class IndexedSeries
{
    public function __construct(
        public int $id,
        public int $page,
        public int $slot,
        public LabelSet $labels,
        public int $staleMs,
        public int $targetId = 0,
        public int $firstMs = 0,
    ) {
    }

    /** How often its target is read. */
    public function intervalMs(): int
    {
        return max(1, intdiv($this->staleMs, Target::STALE_INTERVALS));
    }
}
