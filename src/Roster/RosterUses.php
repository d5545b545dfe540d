<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Olivine\App\Delivery\Definition\UsedKind;
use Olivine\App\Delivery\WhereUsed;
use Olivine\App\Platform\Problem;

/** A roster that rungs or copies name keeps its name, and stays. */
final readonly class RosterUses
{
    public function __construct(private WhereUsed $used)
    {
    }

    /** @throws Problem 409 where it is named, and would not be there by this name any more */
    public function holdName(string $name, string $after): void
    {
        $used = $this->used->of(UsedKind::Roster, $name);
        $where = implode(', ', array_unique([...$used->inService, ...$used->draft]));
        if ($name !== $after && $where !== '') {
            throw new Problem(409, "{$name} is used by {$where}; its name stays as long as it is. Take it out there first");
        }
    }
}
