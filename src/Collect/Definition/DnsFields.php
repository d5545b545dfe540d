<?php

declare(strict_types=1);

namespace Olivine\App\Collect\Definition;

use Olivine\App\Collect\SourceKind;
use Olivine\App\Platform\Definition\Field\Line;
use Olivine\App\Platform\Definition\Field\Names;
use Olivine\App\Platform\Definition\Field\Number;

/** What name servers say of a name. */
final readonly class DnsFields implements AskFields
{
    public string $kind;

    /**
     * @param string       $name    that is looked up
     * @param list<string> $servers addresses, with a port behind a colon where it is not 53; none: those of this machine
     * @param list<string> $expects records that must be among the answers
     */
    public function __construct(
        #[Line(253, 1)]
        public string $name,
        public RecordType $type = RecordType::A,
        #[Names(100)]
        public array $servers = [],
        #[Names(500)]
        public array $expects = [],
        #[Number(0.1, 60)]
        public float $patienceSeconds = 5.0,
    ) {
        $this->kind = SourceKind::Dns->value;
    }

    public function kind(): SourceKind
    {
        return SourceKind::Dns;
    }

    public function address(): string
    {
        return "dns:{$this->name}?type={$this->type->value}";
    }
}
