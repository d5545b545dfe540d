<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Expect;

/** What is wrong with an expectation, and from which byte on. */
final class BadExpectation extends \RuntimeException
{
    public function __construct(public readonly int $at, string $message)
    {
        parent::__construct($message);
    }
}
