<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\SourceKind;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Whole;

/** The certificate of a server. */
final readonly class TlsFields implements AskFields
{
    public string $kind;

    /**
     * @param string $name      whom it must be for; "": the host
     * @param bool   $mayBeOurs whether nobody need vouch for it
     */
    public function __construct(
        #[Line(253, 1)]
        public string $host,
        #[Whole(1, 65_535)]
        public int $port = 443,
        #[Line(253)]
        public string $name = '',
        public bool $mayBeOurs = false,
        #[Number(0.1, 60)]
        public float $patienceSeconds = 10.0,
    ) {
        $this->kind = SourceKind::Tls->value;
    }

    public function kind(): SourceKind
    {
        return SourceKind::Tls;
    }

    public function address(): string
    {
        return "tls://{$this->host}:{$this->port}";
    }
}
