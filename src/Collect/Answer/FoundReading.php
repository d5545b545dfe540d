<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Series\LabelSet;

final readonly class FoundReading
{
    public function __construct(public LabelSet $labels, public string $value)
    {
    }
}
