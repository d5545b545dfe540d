<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Dns;

/** What one name server said. */
final readonly class DnsAnswer
{
    /**
     * @param list<string> $records as text, such as `10 mail.saltmarsh.example`
     * @param string|null  $fault   why it said nothing
     */
    public function __construct(public string $server, public float $seconds, public array $records, public ?string $fault = null, public bool $isOurs = false)
    {
    }
}
