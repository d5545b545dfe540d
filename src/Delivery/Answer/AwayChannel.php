<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

/** A way to reach people that does not take what it should. */
final readonly class AwayChannel
{
    /** @param Instant $since when the oldest of what waits was due */
    public function __construct(public string $name, public string $reason, public Instant $since, public int $waiting)
    {
    }
}
