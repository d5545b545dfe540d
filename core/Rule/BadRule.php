<?php

declare(strict_types=1);

namespace Olivine\Core\Rule;

/** A rule that cannot be: which field, and what it must be. */
final class BadRule extends \InvalidArgumentException
{
    public function __construct(public readonly string $field, string $message)
    {
        parent::__construct($message);
    }
}
