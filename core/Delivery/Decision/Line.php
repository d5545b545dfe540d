<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Decision;

use Olivine\Core\Delivery\Decision;
use Olivine\Core\Delivery\TrailKind;
use Olivine\Core\Time\Instant;

/** What the trail says from now on. */
final readonly class Line implements Decision
{
    /** @param string|null $onceKey of lines with the same key there is one */
    public function __construct(public TrailKind $kind, public Instant $at, public string $words, public ?string $onceKey = null)
    {
    }
}
