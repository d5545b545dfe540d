<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Check\Phases;

/** Where the time of one of the last exchanges went. */
final readonly class LastExchange
{
    /**
     * @param string     $place  by its name
     * @param float|null $up     1 where the service ran, 0 where it was down; null where nobody knows
     * @param bool       $partly whether something it did failed
     */
    public function __construct(public int $at, public string $place, public ?float $up, public bool $partly, public Phases $phases)
    {
    }
}
