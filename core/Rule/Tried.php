<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

use Olivine\Core\Time\Duration;

/** Settings of a rule that were tried, and what their alerts are worth. */
final readonly class Tried
{
    /** @param float|null $limit null: it has none that could be moved */
    public function __construct(public ?float $limit, public Duration $hold, public Judged $judged, public int $alerts)
    {
    }
}
