<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Decision;

use Olivine\Core\Delivery\Decision;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Time\Instant;

/** Somebody is told. Of one kind and round there is one message to a person, however often it is decided. */
final readonly class Tell implements Decision
{
    /** @param int $round of a raise the rung, of "worse" the rank of the severity, else 1 */
    public function __construct(public MessageKind $kind, public int $round, public int $person, public Instant $dueAt)
    {
    }
}
