<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

/** The same alerts of the past by what is in service, and by the draft; if nobody had acted. */
final readonly class PlanCompared
{
    /**
     * @param int $alerts    that were raised between
     * @param int $price     of the messages by what is in service, in thousandths
     * @param int $priceThen by the draft
     */
    public function __construct(
        public Instant $from,
        public Instant $to,
        public int $alerts,
        public Heard $inService,
        public Heard $draft,
        public int $price,
        public int $priceThen,
    ) {
    }
}
