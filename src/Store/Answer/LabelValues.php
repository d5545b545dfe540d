<?php

declare(strict_types=1);

namespace Olivine\App\Store\Answer;

final readonly class LabelValues
{
    /**
     * @param list<string> $values
     */
    public function __construct(public string $name, public int $count, public array $values)
    {
    }
}
