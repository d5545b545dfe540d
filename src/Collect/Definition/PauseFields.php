<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

final readonly class PauseFields
{
    public function __construct(public bool $paused = true)
    {
    }
}
