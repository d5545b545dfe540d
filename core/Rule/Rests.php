<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** Where nobody expects readings: somebody paused or removed what would bring them, or Olivine itself did not look. */
interface Rests
{
    /** @return Rest|null why nothing comes for these labels of the formula at the instant; null where something should */
    public function why(Node $formula, LabelSet $labels, Instant $at): ?Rest;
}
