<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** What was seen when a check failed. */
final readonly class Evidence
{
    /**
     * @param list<CheckStep> $steps
     * @param string          $text  the beginning of the last answer
     */
    public function __construct(public EvidenceLine $line, public array $steps, public string $text)
    {
    }
}
