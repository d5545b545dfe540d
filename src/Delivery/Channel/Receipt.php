<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

/** The other side took a message. */
final readonly class Receipt
{
    /** @param string $answer its own words */
    public function __construct(public string $answer)
    {
    }
}
