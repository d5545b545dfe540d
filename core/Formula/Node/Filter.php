<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

use Olivine\Core\Series\LabelSet;

/** A condition on labels. */
interface Filter
{
    public function accepts(LabelSet $labels): bool;
}
