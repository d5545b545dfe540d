<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\App\Delivery\Definition\MuteKind;
use Olivine\Core\Time\Instant;

/** A time in which something hushes. */
final readonly class HushSpan
{
    public function __construct(public int $id, public string $name, public MuteKind $kind, public Instant $from, public Instant $to)
    {
    }
}
