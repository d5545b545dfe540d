<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

use Olivine\Core\Time\Instant;

/** What would become of a made-up alert, if nobody acted. */
final readonly class TriedAlert
{
    /**
     * @param string          $path  that answers for it
     * @param string          $group what its incident would be of
     * @param list<TriedStep> $steps in the order of time
     */
    public function __construct(public Instant $at, public string $path, public string $group, public array $steps)
    {
    }
}
