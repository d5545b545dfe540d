<?php

declare(strict_types=1);

namespace Olivine\App\Files;

/** Words that cannot be meant, and the byte at which others should stand. */
final class BadText extends \RuntimeException
{
    public function __construct(public readonly int $offset, string $message)
    {
        parent::__construct($message);
    }
}
