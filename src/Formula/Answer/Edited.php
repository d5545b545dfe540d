<?php

declare(strict_types=1);

namespace Olivine\App\Formula\Answer;

final readonly class Edited
{
    public function __construct(public string $formula)
    {
    }
}
