<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

/** What a desk keeps of an incident, as it stood there when it was looked at last. */
final readonly class ShownTicket
{
    /** @param string $url "" where the desk says none */
    public function __construct(
        public string $channel,
        public string $key,
        public string $state,
        public string $owner,
        public string $url,
        public Instant $lookedAt,
    ) {
    }
}
