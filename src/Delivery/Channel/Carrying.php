<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Channel;

/** What a channel can carry. */
final readonly class Carrying
{
    /**
     * @param bool   $picture  a picture of the readings
     * @param string $answered how it can be answered, in words; empty: it cannot be
     * @param bool   $together several in one message
     */
    public function __construct(public bool $picture, public string $answered, public bool $together = true)
    {
    }
}
