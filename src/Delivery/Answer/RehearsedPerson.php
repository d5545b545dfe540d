<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** Who is asked to a rehearsal. */
final readonly class RehearsedPerson
{
    /** @param bool $self whether it is whoever looks */
    public function __construct(public int $id, public string $name, public bool $agreed, public bool $self)
    {
    }
}
