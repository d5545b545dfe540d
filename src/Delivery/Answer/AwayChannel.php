<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

/** A way to reach people that does not take what it should. */
final readonly class AwayChannel
{
    /**
     * @param Instant|null $since   when the oldest of what waits was due; null: it is not set up at all
     * @param bool         $isThere whether it took others meanwhile, so that it refuses only some
     */
    public function __construct(
        public string $name,
        public string $reason,
        public ?Instant $since,
        public bool $isThere,
        public int $waiting,
    ) {
    }
}
