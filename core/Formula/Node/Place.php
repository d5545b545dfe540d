<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** Where a part stands in the formula's text, in bytes. */
final readonly class Place
{
    public function __construct(public int $offset, public int $length)
    {
    }

    public function to(self $last): self
    {
        return new self($this->offset, $last->offset + $last->length - $this->offset);
    }
}
