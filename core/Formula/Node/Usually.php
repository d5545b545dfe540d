<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

use Olivine\Core\Formula\BaselineMethod;
use Olivine\Core\Formula\UsualPart;

/** What is usual for each series by its own past, and how far it usually is from that. Rules look at it; it has no word in formulas. */
final readonly class Usually implements Node
{
    /** @param int $warmUpMs so long there must have been values before anything is usual */
    public function __construct(
        public Node $of,
        public BaselineMethod $method,
        public int $spanMs,
        public int $warmUpMs,
        public UsualPart $part,
    ) {
    }

    public function place(): Place
    {
        return $this->of->place();
    }
}
