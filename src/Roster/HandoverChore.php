<?php

declare(strict_types=1);

namespace Olivine\App\Roster;

use Doctrine\ORM\EntityManagerInterface;
use Olivine\App\Platform\Chore;
use Olivine\Core\Time\Instant;

final readonly class HandoverChore implements Chore
{
    private const EVERY_MS = 15_000;

    public function __construct(private Handovers $handovers, private EntityManagerInterface $entities)
    {
    }

    public function name(): string
    {
        return 'telling what is handed over';
    }

    public function everyMs(): int
    {
        return self::EVERY_MS;
    }

    public function do(Instant $now): void
    {
        // The keeper lives long, and what is kept changes while it does.
        $this->entities->clear();
        $this->handovers->tellDue();
    }
}
