<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** Whom a rung would tell now, and by what. */
final readonly class PlayedRung
{
    /** @param list<string> $ways */
    public function __construct(public int $rung, public int $person, public string $name, public array $ways)
    {
    }
}
