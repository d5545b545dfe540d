<?php

declare(strict_types=1);

namespace Olivine\App\People\Answer;

final readonly class Session
{
    public function __construct(public ?Person $person, public string $zone)
    {
    }
}
