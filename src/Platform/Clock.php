<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

use Olivine\Core\Time\Instant;
use Symfony\Component\Clock\ClockInterface;
use Symfony\Component\Clock\NativeClock;

/** Now, by the clock that the application is given. */
final readonly class Clock
{
    public function __construct(private ClockInterface $clock = new NativeClock())
    {
    }

    public function now(): Instant
    {
        return Instant::of($this->clock->now());
    }
}
