<?php

declare(strict_types=1);

namespace Olivine\App\Roster\Answer;

use Olivine\App\Delivery\Answer\ShownContact;

/** How somebody on a roster is reached. */
final readonly class ShownReach
{
    /** @param list<ShownContact> $contacts */
    public function __construct(public string $person, public int $personId, public array $contacts)
    {
    }
}
