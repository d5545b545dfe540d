<?php

declare(strict_types=1);

namespace Olivine\App\Platform;

/** Another holds the lease by now: nothing of the transaction that noticed it is written. */
final class LeaseLost extends \RuntimeException
{
    public function __construct(string $name)
    {
        parent::__construct("Another {$name} has taken over");
    }
}
