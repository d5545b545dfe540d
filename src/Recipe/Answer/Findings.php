<?php

declare(strict_types=1);

namespace Olivine\App\Recipe\Answer;

/** Known faults that are so now. */
final readonly class Findings
{
    /**
     * @param list<Finding> $findings the oldest first
     * @param list<string>  $unread   what could not be worked out, and why
     * @param int|null      $lookedAt when they were looked for last; null: never yet
     */
    public function __construct(public array $findings, public array $unread, public ?int $lookedAt)
    {
    }
}
