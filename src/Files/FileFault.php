<?php

declare(strict_types=1);

namespace Olivine\App\Files;

/** What is wrong in a file, where, and the remedy. */
final readonly class FileFault
{
    public function __construct(public string $file, public int $line, public int $column, public string $message)
    {
    }

    /** `rules/piers.yaml:12:14: above much: here comes a number, such as 400`. */
    public function words(): string
    {
        return "{$this->file}:{$this->line}:{$this->column}: {$this->message}";
    }
}
