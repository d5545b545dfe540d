<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

final readonly class ShownRung
{
    /**
     * @param list<string> $who    as it is set up: `on call`
     * @param list<string> $by     channels; empty: as each person wishes
     * @param list<string> $people whom it would reach now
     */
    public function __construct(public array $who, public array $by, public array $people, public int $afterMs)
    {
    }
}
