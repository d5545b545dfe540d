<?php

declare(strict_types=1);

namespace Olivine\App\Setup\Answer;

final readonly class TestMail
{
    public function __construct(public string $message, public bool $ok, public string $to)
    {
    }
}
