<?php

declare(strict_types=1);

namespace Olivine\App\Files;

/** Files that cannot be read as what they should hold; each fault is a line of the message. */
final class BadFiles extends \RuntimeException
{
    /** @param non-empty-list<FileFault> $faults */
    public function __construct(public readonly array $faults)
    {
        parent::__construct(implode("\n", array_map(static fn(FileFault $fault): string => $fault->words(), $faults)));
    }
}
