<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery;

use Olivine\Core\Time\Duration;

/** A rung as it is set up: whom it tells, through which channels, and how long until the next one. */
final readonly class LadderStep
{
    /**
     * @param non-empty-list<Who> $who
     * @param list<string>        $by  channels, all of them at once; empty: as each person wishes
     */
    public function __construct(public array $who, public Duration $after, public array $by = [])
    {
    }

    /** Whom it reaches depends on the rules that raise. */
    public function isForOwner(): bool
    {
        return array_any($this->who, static fn(Who $one): bool => $one->listener === Listener::Owner);
    }
}
