<?php

declare(strict_types=1);

namespace Olivine\App\Store;

use Olivine\Core\Series\LabelSet;

/** One series on its way out. */
final readonly class ExportedSeries
{
    /**
     * @param list<int>   $times
     * @param list<float> $values one for each time
     */
    public function __construct(public LabelSet $labels, public array $times, public array $values)
    {
    }
}
