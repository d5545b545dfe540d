<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

final readonly class PlaceName
{
    public function __construct(public int $id, public string $name)
    {
    }
}
