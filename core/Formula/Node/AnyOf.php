<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

use Olivine\Core\Series\LabelSet;

final readonly class AnyOf implements Filter
{
    public function __construct(public Filter $left, public Filter $right)
    {
    }

    public function accepts(LabelSet $labels): bool
    {
        return $this->left->accepts($labels) || $this->right->accepts($labels);
    }
}
