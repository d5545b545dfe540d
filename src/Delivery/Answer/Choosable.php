<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** Somebody who can be put on a ladder. */
final readonly class Choosable
{
    public function __construct(public string $address, public string $name)
    {
    }
}
