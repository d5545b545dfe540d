<?php

declare(strict_types=1);

namespace Olivine\App\Delivery\Answer;

/** What came of a test of a channel, in words. */
final readonly class TestOfChannel
{
    public function __construct(public bool $ok, public string $message)
    {
    }
}
