<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

/** What a part does, round by round, within the slots that it holds. */
interface PartWork
{
    /** Other slots than before, maybe none: what is remembered of the work may be old, for others had it or have it now. */
    public function hold(HeldSlots $slots): void;

    /** @return int how many milliseconds may pass until the next round */
    public function round(): int;

    /** @return array<string, float> of what this copy did and holds; a count ends in `_total`, a span of time in `_seconds` */
    public function figures(): array;
}
