<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** A part of the plan that files say. */
final readonly class PartFromFile
{
    /** @param string $part `path boarding` */
    public function __construct(public string $part, public string $file)
    {
    }
}
