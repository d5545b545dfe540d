<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;
use Olivine\Core\Time\Instant;

/** Somebody gave an incident into somebody's hands, maybe out of their own. */
final readonly class Assigned implements Event
{
    /**
     * @param int          $person who has it from now on
     * @param int          $by     who said so
     * @param Instant|null $until  when nobody has it any more; null: until it is over
     */
    public function __construct(
        public int $person,
        public string $name,
        public int $by,
        public string $byName,
        public string $note = '',
        public ?Instant $until = null,
    ) {
    }
}
