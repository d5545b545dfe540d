<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

/** A message that was given up, which can be sent again by hand. */
final readonly class FailedMessage
{
    public function __construct(
        public int $id,
        public int $incident,
        public string $title,
        public string $person,
        public string $channel,
        public string $of,
        public Instant $dueAt,
        public string $reason,
    ) {
    }
}
