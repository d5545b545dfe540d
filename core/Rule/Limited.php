<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** A condition with limits. */
interface Limited extends Condition
{
    public function limits(): Limits;

    /**
     * The same with other limits.
     *
     * @throws BadRule naming the field that cannot be so
     */
    public function limitedBy(Limits $limits): self;
}
