<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;

/** What hushes was set, changed or ended by hand. */
final readonly class MutesChanged implements Event
{
}
