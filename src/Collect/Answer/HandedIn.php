<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Time\Instant;

/** What was taken of what was handed in. */
final readonly class HandedIn
{
    public function __construct(public int $id, public string $name, public int $readings, public Instant $endsAt)
    {
    }
}
