<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** What tells an incident from the others that are open: the path that answers for it, and what of. Of those that are open there is one at most. */
final readonly class IncidentPlace
{
    public function __construct(public string $path, public string $group)
    {
    }

    public function key(): string
    {
        return "{$this->path}\n{$this->group}";
    }
}
