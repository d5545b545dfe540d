<?php

declare(strict_types=1);

namespace Olivine\Core\Delivery\Decision;

use Olivine\Core\Delivery\Decision;

/** What was decided to be told of the raise, and nobody tried to yet, is told no more. */
final readonly class Withdraw implements Decision
{
    public function __construct(public string $why)
    {
    }
}
