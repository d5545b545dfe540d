<?php

declare(strict_types=1);

namespace Olivine\Core\Formula;

/** What a formula yields over a range. */
final readonly class Lines
{
    /** @param list<Line> $lines one without labels where the formula is a bare number */
    public function __construct(public array $lines, public bool $isNumber = false)
    {
    }
}
