<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** Where a part stands in the formula's text, in bytes. */
final readonly class Place
{
    public function __construct(public int $offset, public int $length)
    {
    }

    /** From here to there; what has a name may stand before, and then it is this place alone. */
    public function to(self $last): self
    {
        return new self($this->offset, max($this->length, $last->offset + $last->length - $this->offset));
    }
}
