<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** What was rehearsed, and what is asked for. */
final readonly class RehearsalsPage
{
    /** @param list<ShownRehearsal> $rehearsals the newest first */
    public function __construct(public string $words, public array $rehearsals)
    {
    }
}
