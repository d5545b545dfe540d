<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Answer;

use Olivine\Core\Series\LabelSet;

/** A reading that a trial brought. */
final readonly class FoundNumber
{
    public function __construct(public string $metric, public LabelSet $labels, public float $value, public string $unit)
    {
    }
}
