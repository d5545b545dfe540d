<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** What is done about an event, beside what it changes of the incident. */
interface Decision
{
}
