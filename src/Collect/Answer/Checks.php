<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** All checks, and where they are asked from. */
final readonly class Checks
{
    /**
     * @param list<PlaceName>  $places
     * @param list<Check>      $checks by name
     * @param list<CheckFault> $unread those that cannot be read any more, and so are not asked
     */
    public function __construct(public array $places, public array $checks, public array $unread)
    {
    }
}
