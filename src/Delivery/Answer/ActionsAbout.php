<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** What may be done about a thing, and what was done. */
final readonly class ActionsAbout
{
    /**
     * @param list<ShownAction> $actions
     * @param list<ShownRun>    $runs    the newest first
     */
    public function __construct(public array $actions, public array $runs)
    {
    }
}
