<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Decision;

use Olivine\Core\Delivery\Decision;
use Olivine\Core\Delivery\MessageKind;
use Olivine\Core\Time\Instant;

/** Somebody is told. Of one kind and round there is one message to a person by each way, however often it is decided. */
final readonly class Tell implements Decision
{
    /**
     * @param int    $round of a raise the rung, of "worse" the rank of the severity, else 1
     * @param string $way   the channel it goes through
     */
    public function __construct(public MessageKind $kind, public int $round, public int $person, public string $way, public Instant $dueAt)
    {
    }
}
