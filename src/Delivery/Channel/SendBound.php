<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

/** How long the sending of one message may take: a slot is another's after ten seconds. */
final class SendBound
{
    public const SECONDS = 6.0;
}
