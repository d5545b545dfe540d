<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

use Olivine\Core\Formula\UsualPart;

/** What is usual among the others of a series' group at the same instant, and how far they are apart. It has no word in formulas. */
final readonly class Twins implements Node
{
    public function __construct(public Node $of, public ?Grouping $grouping, public UsualPart $part)
    {
    }

    public function place(): Place
    {
        return $this->of->place();
    }
}
