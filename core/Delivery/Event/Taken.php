<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;
use Olivine\Core\Delivery\MessageKind;

/** The other side took a message: somebody was told by this way. */
final readonly class Taken implements Event
{
    /** @param string $words what was told, to whom, and what was answered */
    public function __construct(
        public MessageKind $kind,
        public int $round,
        public int $person,
        public string $way,
        public string $words,
        public string $onceKey,
    ) {
    }
}
