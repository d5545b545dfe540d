<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

use Olivine\Core\Series\LabelSet;

final readonly class NoneOf implements Filter
{
    public function __construct(public Filter $of)
    {
    }

    public function accepts(LabelSet $labels): bool
    {
        return !$this->of->accepts($labels);
    }
}
