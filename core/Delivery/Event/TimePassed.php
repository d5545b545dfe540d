<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Event;

use Olivine\Core\Delivery\Event;

/** Nothing happened; what is due by now is done. */
final readonly class TimePassed implements Event
{
}
