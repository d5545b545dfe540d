<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\SourceKind;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Number;
use Olivine\App\Platform\Definition\Field\Whole;

/** A host that echoes. */
final readonly class PingFields implements AskFields
{
    public string $kind;

    /**
     * @param int   $count    how many echoes, a fifth of a second apart
     * @param float $mostLoss the share of them that may be lost
     */
    public function __construct(
        #[Line(253, 1)]
        public string $host,
        #[Whole(1, 20)]
        public int $count = 5,
        #[Number(0, 1)]
        public float $mostLoss = 0.2,
        #[Number(0.5, 60)]
        public float $patienceSeconds = 5.0,
    ) {
        $this->kind = SourceKind::Ping->value;
    }

    public function kind(): SourceKind
    {
        return SourceKind::Ping;
    }

    public function address(): string
    {
        return "ping:{$this->host}";
    }
}
