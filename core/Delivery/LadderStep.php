<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Time\Duration;

/** A rung as it is set up: whom it tells, and how long until the next one. */
final readonly class LadderStep
{
    /** @param non-empty-list<Who> $who */
    public function __construct(public array $who, public Duration $after)
    {
    }
}
