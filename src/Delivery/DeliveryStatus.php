<?php

declare(strict_types=1);

namespace Olivine\App\Delivery;

enum DeliveryStatus: string
{
    case Planned = 'planned';
    /** Claimed: whoever holds the lease and finds it so without having claimed it sends it again, under the same key. */
    case Sending = 'sending';
    case Sent = 'sent';
    case Failed = 'failed';
    /** It was over before it was sent. */
    case Dropped = 'dropped';
}
