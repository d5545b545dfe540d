<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

/** All places, and what lets others join. */
final readonly class Places
{
    /**
     * @param list<Place>             $places
     * @param list<ShownStationToken> $tokens  that still let somebody join
     * @param string                  $address of the centre, as a station is told it
     */
    public function __construct(public array $places, public array $tokens, public string $address)
    {
    }
}
