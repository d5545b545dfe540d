<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Answer;

use Olivine\Core\Series\LabelSet;
use Olivine\Core\Time\Instant;

/** An alert that is raised, and when it would clear if all stayed as it is. */
final readonly class ClearingAlert
{
    /** @param Instant|null $at null: not within two hours */
    public function __construct(public LabelSet $labels, public ?Instant $at)
    {
    }
}
