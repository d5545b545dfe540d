<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** A check, and how it stands from each of its places. */
final readonly class Check extends CheckSettings
{
    /** @param list<CheckState> $states */
    public function __construct(CheckSettings $of, public array $states)
    {
        parent::__construct(...get_object_vars($of));
    }
}
