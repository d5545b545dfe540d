<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** Where somebody or something is used. */
final readonly class ShownUses
{
    /**
     * @param list<string> $inService `rung 2 of ladder piers`, `team piers`
     * @param list<string> $draft     the same of the draft, where there is one
     * @param list<string> $beside    elsewhere: `rule Boarding queue owns it`, `turn 3 on call`
     */
    public function __construct(public array $inService, public array $draft, public array $beside)
    {
    }
}
