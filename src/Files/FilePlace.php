<?php

declare(strict_types=1);

namespace Olivine\App\Files;

/** Where something stands in a file, both counted from 1. */
final readonly class FilePlace
{
    public function __construct(public int $line, public int $column)
    {
    }
}
