<?php

declare(strict_types=1);

namespace Olivine\App\Store\Answer;

/** A formula over a span. */
final readonly class ChartData extends DrawnChart
{
    public function __construct(DrawnChart $of, public int $from, public int $to)
    {
        parent::__construct(...get_object_vars($of));
    }
}
