<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

final readonly class ShownCredential
{
    public function __construct(public string $name, public string $kind)
    {
    }
}
