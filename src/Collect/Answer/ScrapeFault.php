<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

final readonly class ScrapeFault
{
    public function __construct(public int $at, public string $message)
    {
    }
}
