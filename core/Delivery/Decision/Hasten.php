<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Decision;

use Olivine\Core\Delivery\Decision;
use Olivine\Core\Rule\Severity;

/**
 * What waits to be told of the raise, for quiet hours to end or as one of too many in an hour, waits no longer where the incident is by now
 * too grave for that: from major on nothing of it is one of too many, and what is critical passes quiet hours.
 */
final readonly class Hasten implements Decision
{
    public function __construct(public Severity $severity)
    {
    }
}
