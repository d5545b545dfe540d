<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** What a person said of an alert: it speaks for whatever is raised for the same labels at that time. */
final readonly class Mark
{
    public function __construct(public Spell $spell, public Worth $worth)
    {
    }

    public function isOf(Spell $spell): bool
    {
        return $this->spell->labels->equals($spell->labels) && $this->spell->overlaps($spell);
    }
}
