<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

final readonly class SilentTarget
{
    public function __construct(public int $id, public string $name, public ?string $message, public ?int $okAt)
    {
    }
}
