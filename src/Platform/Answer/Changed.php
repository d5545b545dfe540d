<?php

declare(strict_types=1);

namespace Olivine\App\Platform\Answer;

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
