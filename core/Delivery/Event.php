<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

/** What happens to an incident, or opens one: something of its alerts, an answer of a person, time that passes. */
interface Event
{
}
