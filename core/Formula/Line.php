<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

use Olivine\Core\Series\LabelSet;

/** One series of a result: a value, or null for none, at each instant asked for. */
final readonly class Line
{
    /** @param list<float|null> $values */
    public function __construct(public LabelSet $labels, public array $values)
    {
    }

    public function isEmpty(): bool
    {
        foreach ($this->values as $value) {
            if ($value !== null) {
                return false;
            }
        }

        return true;
    }
}
