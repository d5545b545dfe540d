<?php

declare(strict_types=1);

namespace Olivine\Core\Formula\Node;

/** `per host, state` keeps these labels, `dropping host` all others. */
final readonly class Grouping
{
    /** @param list<string> $labels */
    public function __construct(public bool $keeps, public array $labels)
    {
    }

    /** Two groupings of one key group alike. */
    public function key(): string
    {
        return ($this->keeps ? 'per ' : 'dropping ') . implode(', ', $this->labels);
    }
}
