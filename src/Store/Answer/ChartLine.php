<?php

declare(strict_types=1);

namespace Olivine\App\Store\Answer;

use Olivine\Core\Series\LabelSet;

final readonly class ChartLine
{
    /**
     * @param list<float|null> $values
     */
    public function __construct(public LabelSet $labels, public array $values)
    {
    }
}
