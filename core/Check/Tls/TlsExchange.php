<?php

declare(strict_types=1);

namespace Olivine\Core\Check\Tls;

use Olivine\Core\Check\Phases;

/** What a server showed, or why it showed nothing. */
final readonly class TlsExchange
{
    /**
     * @param list<Certificate> $chain     the server's own first
     * @param bool|null         $isTrusted whether somebody this machine knows vouches for it; null where that cannot be told
     */
    public function __construct(
        public Phases $phases,
        public array $chain,
        public ?bool $isTrusted,
        public string $protocol = '',
        public ?string $fault = null,
        public bool $isOurs = false,
    ) {
    }
}
