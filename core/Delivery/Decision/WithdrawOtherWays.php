<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Decision;

use Olivine\Core\Delivery\Decision;
use Olivine\Core\Delivery\MessageKind;

/** Somebody was told by one way: what waits to tell the same by another one waits no longer. */
final readonly class WithdrawOtherWays implements Decision
{
    /**
     * @param string       $way  that told
     * @param list<string> $keep ways that are to tell it too
     */
    public function __construct(public MessageKind $kind, public int $round, public int $person, public string $way, public array $keep = [])
    {
    }
}
