<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

/** Now, in milliseconds UTC. */
final class Clock
{
    public static function nowMs(): int
    {
        return (int) floor(microtime(true) * 1000);
    }
}
