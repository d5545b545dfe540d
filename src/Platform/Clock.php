<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Symfony\Component\Clock\ClockInterface;
use Symfony\Component\Clock\NativeClock;

/** Now in milliseconds UTC, by the clock that the application is given. */
final readonly class Clock
{
    public function __construct(private ClockInterface $clock = new NativeClock())
    {
    }

    public function nowMs(): int
    {
        return (int) $this->clock->now()->format('Uv');
    }
}
