<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Http;

/** What was asked, as it may be shown: where something was filled in stands its name. */
final readonly class HttpSent
{
    /** @param array<string, string> $headers */
    public function __construct(public string $method, public string $url, public array $headers, public string $body)
    {
    }
}
