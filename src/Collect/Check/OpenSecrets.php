<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

/** What may be filled in, by name, and the servers it may be sent to. */
final readonly class OpenSecrets
{
    /**
     * @param array<string, string> $values
     * @param list<string>          $origins
     */
    public function __construct(#[\SensitiveParameter] public array $values, public array $origins)
    {
    }
}
