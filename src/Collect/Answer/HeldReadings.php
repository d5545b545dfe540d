<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Time\Instant;

/** When a source handed in what it handed in last, and until when that holds. */
final readonly class HeldReadings
{
    public function __construct(public Instant $at, public Instant $endsAt)
    {
    }
}
