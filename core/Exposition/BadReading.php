<?php

declare(strict_types=1);

namespace Olivine\Core\Exposition;

/** What stands there cannot be a reading: where, and what it must be. */
final class BadReading extends \RuntimeException
{
    public function __construct(public readonly string $where, string $words)
    {
        parent::__construct("{$where} {$words}");
    }
}
