<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

use Olivine\Core\Formula\Operator;

/** Arithmetic, comparison (1 or 0) or logic (1 or 0) between two sides, paired on the labels they share. */
final readonly class Binary implements Node
{
    /** @param list<string>|null $on labels to pair on; null: all that both sides have */
    public function __construct(
        public Place $place,
        public Operator $operator,
        public Node $left,
        public Node $right,
        public ?array $on,
    ) {
    }

    public function place(): Place
    {
        return $this->place;
    }
}
