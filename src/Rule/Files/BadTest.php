<?php

declare(strict_types=1);

namespace Olivine\App\Rule\Files;

/** A rule test that cannot be run: where in it, and why. */
final class BadTest extends \RuntimeException
{
    /** @param list<string> $path */
    public function __construct(public readonly array $path, string $message)
    {
        parent::__construct($message);
    }
}
