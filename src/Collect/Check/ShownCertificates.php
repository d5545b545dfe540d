<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Check;

use Olivine\Core\Check\Tls\Certificate;

/** What a server showed while TLS was agreed on. */
final readonly class ShownCertificates
{
    /** @param list<Certificate> $chain the server's own first */
    public function __construct(public array $chain, public ?bool $isTrusted, public string $protocol)
    {
    }
}
