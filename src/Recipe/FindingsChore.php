<?php

declare(strict_types=1);

namespace Olivine\App\Recipe;

use Olivine\App\Platform\Chore;
use Olivine\App\Platform\WorkTime;
use Olivine\Core\Time\Instant;

/** Looks for known faults every ten minutes; nobody is told, they stand in their list. */
final readonly class FindingsChore implements Chore
{
    private const EVERY_MS = 600_000;
    private const SECONDS = 60.0;

    public function __construct(private Findings $findings, private WorkTime $time)
    {
    }

    public function name(): string
    {
        return 'looking for known faults';
    }

    public function everyMs(): int
    {
        return self::EVERY_MS;
    }

    public function do(Instant $now): void
    {
        $this->time->begin(self::SECONDS);
        try {
            $this->findings->look($now);
        } finally {
            $this->time->end();
        }
    }
}
