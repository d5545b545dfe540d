<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;
use Olivine\Core\Delivery\MessageKind;

/** A message was not taken over there, and maybe will be later. */
final readonly class NotTaken implements Event
{
    /**
     * @param string      $words   what was tried and why it was not taken; empty: that was said before
     * @param string|null $onceKey where it is said once however often it is found
     */
    public function __construct(
        public MessageKind $kind,
        public int $round,
        public int $person,
        public string $way,
        public string $words,
        public ?string $onceKey = null,
    ) {
    }
}
