<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

/** A way to reach people, and how it does. */
final readonly class ChannelState
{
    /**
     * @param string       $answered     how it can be answered, in words; empty: it cannot be
     * @param Instant|null $failingSince when what waits for another try was due, the oldest
     * @param string       $reason       why the newest of these was not taken, or what is missing; empty: it takes what it should
     * @param bool         $refusesSome  it takes others meanwhile
     * @param int|null     $medianMs     from due to taken, of those of the last day
     */
    public function __construct(
        public string $name,
        public string $kind,
        public string $where,
        public string $answered,
        public bool $standsIn,
        public int $waiting,
        public ?Instant $failingSince,
        public string $reason,
        public bool $refusesSome,
        public int $sentLastDay,
        public ?int $medianMs,
    ) {
    }
}
