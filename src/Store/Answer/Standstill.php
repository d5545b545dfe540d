<?php

declare(strict_types=1);

namespace Olivine\App\Store\Answer;

use Olivine\Core\Time\Instant;

/** A span in which nobody collected. */
final readonly class Standstill
{
    public function __construct(public Instant $from, public Instant $to)
    {
    }
}
