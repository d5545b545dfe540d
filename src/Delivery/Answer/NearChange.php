<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

/** What else changed around the onset of an incident. */
final readonly class NearChange
{
    /** @param int|null $incident that opened then, where that is what changed */
    public function __construct(public Instant $at, public string $words, public ?int $incident)
    {
    }
}
