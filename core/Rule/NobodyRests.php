<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Formula\Node\Node;
use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

final class NobodyRests implements Rests
{
    public function why(Node $formula, LabelSet $labels, Instant $at): ?Rest
    {
        return null;
    }
}
