<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** Which of those that were named were changed. */
final readonly class Changed
{
    /**
     * @param list<int> $changed
     */
    public function __construct(public array $changed)
    {
    }
}
