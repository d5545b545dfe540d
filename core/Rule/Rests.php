<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** Where nobody expects readings: somebody paused or removed what would bring them. */
interface Rests
{
    /** @return string|null why nothing comes for these labels of the formula at the instant, in words; null where something should */
    public function why(Node $formula, LabelSet $labels, Instant $at): ?string;
}
