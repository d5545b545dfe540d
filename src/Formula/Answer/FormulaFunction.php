<?php

declare(strict_types=1);

namespace Olivine\App\Formula\Answer;

final readonly class FormulaFunction
{
    /**
     * @param list<string> $usages
     */
    public function __construct(public string $name, public string $example, public string $help, public array $usages)
    {
    }
}
